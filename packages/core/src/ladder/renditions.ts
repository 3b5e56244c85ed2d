import { PICTURE_SIZES } from './picture-sizes.js';

/** A smaller picture that somebody asks for. */
export interface RenditionWish {
  readonly heightPx: number;
  /** `null`: what is usual for its size. */
  readonly videoBitrateBps: number | null;
}

/** Which smaller pictures a programme has beside its original: none, those that fit it and the machine, or chosen ones. */
export type RenditionChoice = 'off' | 'auto' | readonly RenditionWish[];

/** The picture that smaller ones are made of. */
export interface LadderSource {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly frameRateFps: number;
  /** `null` while it is not measured. */
  readonly videoBitrateBps: number | null;
}

/** A smaller picture, as it is encoded. */
export interface PlannedRendition {
  /** Names its folder: `480p`. */
  readonly name: string;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly videoBitrateBps: number;
}

export interface Ladder {
  /** The largest first. */
  readonly renditions: readonly PlannedRendition[];
  /** What was wished for and is not made, and why. */
  readonly leftOut: readonly { readonly heightPx: number; readonly why: LeftOut }[];
}
/** It would be no smaller than the original, or there is not enough of the processor. */
export type LeftOut = 'not-smaller' | 'no-room';

/** The heights offered to choose from. */
export const RENDITION_HEIGHTS = [1080, 720, 480, 360] as const;
/** What may be asked for. */
export const RENDITION_LIMITS = {
  most: 4,
  /** That a house has of its own. */
  mostOwn: 6,
  heightPx: { least: 180, most: 2160 },
  videoBitrateBps: { least: 150_000, most: 12_000_000 },
} as const;

/** By itself, a ladder has so many steps. */
const STEPS_BY_ITSELF = 3;
/** A picture that is hardly smaller, or hardly lighter, helps nobody. */
const SMALLER_SHARE = 0.8;
const LIGHTER_SHARE = 0.7;

/** The ladder for a source, as far as `freeCores` of the processor carry it: where they do not, the largest go first. */
export function planLadder(choice: RenditionChoice, source: LadderSource, freeCores: number): Ladder {
  const leftOut: { heightPx: number; why: LeftOut }[] = [];
  const isByItself = choice === 'auto';
  const wishes = wishesOf(choice).sort((one, other) => other.heightPx - one.heightPx);
  const smaller = wishes.filter(({ heightPx }) => {
    const fits = heightPx <= source.heightPx * SMALLER_SHARE;
    if (!fits && !isByItself) leftOut.push({ heightPx, why: 'not-smaller' });
    return fits;
  });
  let renditions = (isByItself ? smaller.slice(0, STEPS_BY_ITSELF) : smaller).map((wish) =>
    planned(wish, source),
  );
  while (renditions.length > 0 && ladderCores(renditions, source) > freeCores) {
    leftOut.push({ heightPx: renditions[0]!.heightPx, why: 'no-room' });
    renditions = renditions.slice(1);
  }
  return { renditions, leftOut };
}

function wishesOf(choice: RenditionChoice): RenditionWish[] {
  if (choice === 'off') return [];
  if (choice !== 'auto') return [...choice];
  return RENDITION_HEIGHTS.map((heightPx) => ({ heightPx, videoBitrateBps: null }));
}

function planned({ heightPx, videoBitrateBps }: RenditionWish, source: LadderSource): PlannedRendition {
  const most = source.videoBitrateBps === null ? Infinity : source.videoBitrateBps * LIGHTER_SHARE;
  const usual = Math.min(usualBitrateBps(heightPx, source.frameRateFps), most);
  const { least } = RENDITION_LIMITS.videoBitrateBps;
  return {
    name: renditionName(heightPx),
    widthPx: even((source.widthPx * heightPx) / source.heightPx),
    heightPx: even(heightPx),
    videoBitrateBps: Math.round(videoBitrateBps ?? Math.max(least, usual)),
  };
}

export const isSameChoice = (one: RenditionChoice, other: RenditionChoice): boolean =>
  typeof one === 'string' || typeof other === 'string'
    ? one === other
    : one.length === other.length &&
      one.every(
        ({ heightPx, videoBitrateBps }, index) =>
          heightPx === other[index]!.heightPx && videoBitrateBps === other[index]!.videoBitrateBps,
      );

/** Of a folder, and in addresses. */
export const RENDITION_NAME = /^\d{3,4}p$/;
export const renditionName = (heightPx: number): string => `${heightPx}p`;

/** 4:2:0 wants whole pairs of rows and columns. */
const even = (px: number): number => 2 * Math.round(px / 2);

/** What looks clean at a height, at 30 pictures a second; at more of them half as much again for twice as many. */
function usualBitrateBps(heightPx: number, frameRateFps: number): number {
  const sizes = PICTURE_SIZES.filter((size) => size.frameRateFps <= 30);
  const above = sizes.findLast((size) => size.heightPx >= heightPx) ?? sizes[0]!;
  const scaled = above.videoBitrateBps * (heightPx / above.heightPx) ** 2;
  return scaled * Math.max(1, 0.5 + frameRateFps / 60);
}

/** Measured at 720p30 with x264's `veryfast`: a core's share for each picture encoded, and for each million pixels a second. */
const ENCODE_CORES = 0.14;
const ENCODE_CORES_PER_MEGAPIXEL = 0.0105;
const DECODE_CORES_PER_MEGAPIXEL = 0.003;

/** What a ladder is expected to take of the processor, in cores: one decode, and an encode for each step. */
export function ladderCores(renditions: readonly PlannedRendition[], source: LadderSource): number {
  const megapixels = ({ widthPx, heightPx }: { widthPx: number; heightPx: number }): number =>
    (widthPx * heightPx * source.frameRateFps) / 1e6;
  if (renditions.length === 0) return 0;
  const encodes = renditions.map((one) => ENCODE_CORES + megapixels(one) * ENCODE_CORES_PER_MEGAPIXEL);
  return encodes.reduce((sum, cores) => sum + cores, megapixels(source) * DECODE_CORES_PER_MEGAPIXEL);
}
