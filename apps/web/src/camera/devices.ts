import type { PictureSize } from '@heliphon/core/ladder/picture-sizes';

/** What stands in the way of a camera or a microphone. */
export const DEVICE_FAULTS = [
  'not-secure',
  'no-h264',
  'denied',
  'none-found',
  'in-use',
  'no-screen',
  'fault',
] as const;
export type DeviceFault = (typeof DEVICE_FAULTS)[number];

export class DeviceError extends Error {
  override readonly name = 'DeviceError';
  constructor(readonly code: DeviceFault) {
    super(code);
  }
}

/** What is to be recorded: a camera, by its id or by the way it looks, or the screen. */
export interface DeviceWish {
  readonly picture: 'camera' | 'screen';
  readonly cameraId: string | null;
  readonly facing: 'user' | 'environment';
  /** `null` for the usual one; `none` for no microphone. */
  readonly microphoneId: string | null;
}

export interface Devices {
  readonly cameras: readonly MediaDeviceInfo[];
  readonly microphones: readonly MediaDeviceInfo[];
}

/** Speech and song in a room: nothing is to be made louder, or cut, by the browser. */
const SOUND = { echoCancellation: false, noiseSuppression: false, autoGainControl: false } as const;

/** @throws DeviceError saying what stands in the way */
export async function openDevices(wish: DeviceWish, size: PictureSize): Promise<MediaStream> {
  if (!window.isSecureContext || !('mediaDevices' in navigator)) throw new DeviceError('not-secure');
  try {
    return await (wish.picture === 'screen' ? openScreen(wish) : openCamera(wish, size));
  } catch (error) {
    throw error instanceof DeviceError ? error : new DeviceError(faultOf(error, wish));
  }
}

const soundOf = ({ microphoneId }: DeviceWish): MediaTrackConstraints | false =>
  microphoneId === 'none'
    ? false
    : { ...SOUND, ...(microphoneId ? { deviceId: { exact: microphoneId } } : {}) };

function openCamera(
  wish: DeviceWish,
  { widthPx, heightPx, frameRateFps }: PictureSize,
): Promise<MediaStream> {
  return navigator.mediaDevices.getUserMedia({
    video: {
      width: { ideal: widthPx },
      height: { ideal: heightPx },
      frameRate: { ideal: Math.min(30, frameRateFps) },
      ...(wish.cameraId ? { deviceId: { exact: wish.cameraId } } : { facingMode: { ideal: wish.facing } }),
    },
    audio: soundOf(wish),
  });
}

/** The screen with its own sound, and the microphone's over it. */
async function openScreen(wish: DeviceWish): Promise<MediaStream> {
  if (!('getDisplayMedia' in navigator.mediaDevices)) throw new DeviceError('no-screen');
  const screen = await navigator.mediaDevices.getDisplayMedia({ video: { frameRate: 30 }, audio: true });
  const sound = soundOf(wish);
  if (!sound) return screen;
  const voice = await navigator.mediaDevices.getUserMedia({ audio: sound }).catch((error: unknown) => {
    closeStream(screen);
    throw error;
  });
  if (screen.getAudioTracks().length === 0)
    return new MediaStream([...screen.getTracks(), ...voice.getTracks()]);
  return mixed(screen, voice);
}

/** One sound of both; ends with the screen. */
function mixed(screen: MediaStream, voice: MediaStream): MediaStream {
  const context = new AudioContext();
  const both = context.createMediaStreamDestination();
  for (const stream of [screen, voice]) context.createMediaStreamSource(stream).connect(both);
  screen.getVideoTracks()[0]?.addEventListener('ended', () => {
    closeStream(voice);
    void context.close();
  });
  return new MediaStream([...screen.getVideoTracks(), ...both.stream.getAudioTracks()]);
}

export function closeStream(stream: MediaStream | null): void {
  for (const track of stream?.getTracks() ?? []) {
    track.stop();
    track.dispatchEvent(new Event('ended')); // stopping by hand tells nobody
  }
}

/** What there is to choose from; names are known only once one has been allowed. */
export async function listDevices(): Promise<Devices> {
  const all = await navigator.mediaDevices.enumerateDevices();
  const of = (kind: MediaDeviceKind): MediaDeviceInfo[] =>
    all.filter((device) => device.kind === kind && device.deviceId !== '');
  return { cameras: of('videoinput'), microphones: of('audioinput') };
}

function faultOf(error: unknown, { picture }: DeviceWish): DeviceFault {
  switch (error instanceof DOMException ? error.name : '') {
    case 'NotAllowedError':
    case 'SecurityError':
      return picture === 'screen' ? 'no-screen' : 'denied';
    case 'NotFoundError':
    case 'OverconstrainedError':
      return 'none-found';
    case 'NotReadableError':
    case 'AbortError':
      return 'in-use';
    default:
      return 'fault';
  }
}

/** In this order: many browsers name others too. */
const BROWSERS: readonly (readonly [RegExp, string])[] = [
  [/Edg\//, 'Edge'],
  [/Firefox\//, 'Firefox'],
  [/Chrom(?:e|ium)\//, 'Chromium'],
  [/Safari\//, 'Safari'],
];
const SYSTEMS: readonly (readonly [RegExp, string])[] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'macOS'],
  [/Linux/, 'Linux'],
];

/** What this browser calls itself, in a few words. */
export function deviceName(userAgent: string): string {
  const named = (list: typeof BROWSERS): string | undefined =>
    list.find(([pattern]) => pattern.test(userAgent))?.[1];
  const system = named(SYSTEMS);
  const browser = named(BROWSERS) ?? 'A browser';
  return system ? `${browser} on ${system}` : browser;
}
