/** A picture with its sound, as an encoder is set to. */
export interface PictureSize {
  readonly name: string;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly frameRateFps: number;
  readonly videoBitrateBps: number;
  readonly audioBitrateBps: number;
}

/** What is advised, largest first: H.264 at rates that look clean for people who speak, sing and stand. */
export const PICTURE_SIZES = [
  size('1080p60', 1920, 1080, 60, 7000, 160),
  size('1080p30', 1920, 1080, 30, 4500, 160),
  size('720p30', 1280, 720, 30, 2500, 128),
  size('540p30', 960, 540, 30, 1600, 128),
  size('480p30', 854, 480, 30, 1100, 96),
  size('360p30', 640, 360, 30, 700, 96),
  size('240p25', 426, 240, 25, 300, 64),
] as const satisfies readonly PictureSize[];

/** Picture and sound together stay under this share of the measured upload: the rest is for bad minutes. */
export const SAFE_SHARE = 0.5;
/** A keyframe this often: newcomers never wait longer for a picture. */
export const KEYFRAME_EVERY_MS = 2000;

export const totalBitrateBps = (size: PictureSize): number => size.videoBitrateBps + size.audioBitrateBps;

/** Whether a picture with its sound stays under the safe share of an upload. */
export const isSafe = (size: PictureSize, uploadBps: number): boolean =>
  totalBitrateBps(size) < uploadBps * SAFE_SHARE;

/** The largest picture that is safe for an upload; `null` where not even the smallest is. */
export const advisePicture = (uploadBps: number): PictureSize | null =>
  PICTURE_SIZES.find((size) => isSafe(size, uploadBps)) ?? null;

function size(
  name: string,
  widthPx: number,
  heightPx: number,
  frameRateFps: number,
  videoKbps: number,
  audioKbps: number,
): PictureSize {
  return {
    name,
    widthPx,
    heightPx,
    frameRateFps,
    videoBitrateBps: videoKbps * 1000,
    audioBitrateBps: audioKbps * 1000,
  };
}
