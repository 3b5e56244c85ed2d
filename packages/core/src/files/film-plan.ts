import { refuse, succeed, type Result } from '../result.js';
import { FILE_LIMITS, type FileRefusal } from './file-kinds.js';

/** What a media file holds, as far as it matters here. */
export interface MediaFacts {
  readonly durationMs: number | null;
  readonly video: VideoFacts | null;
  readonly audio: AudioFacts | null;
}

export interface VideoFacts {
  readonly codec: string;
  readonly profile: string;
  readonly pixelFormat: string;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly frameRateFps: number;
  /** Clockwise, as a telephone that was held upright notes it. */
  readonly turnedDegrees: number;
  readonly isInterlaced: boolean;
  /** `null`: nobody has looked. */
  readonly longestKeyframeGapMs: number | null;
  readonly bitrateBps: number | null;
}

export interface AudioFacts {
  readonly codec: string;
  readonly profile: string;
  readonly channels: number;
  readonly sampleRateHz: number;
}

/** Why a film's picture has to be re-encoded before every player, and a programme, can take it. */
export const FILM_CHANGES = [
  'codec',
  'colours',
  'too-large',
  'too-fast',
  'turned',
  'interlaced',
  'keyframes',
  'too-rich',
] as const;
export type FilmChange = (typeof FILM_CHANGES)[number];

/** What is to be done with a film or a sound. */
export type FilmPlan =
  | { readonly kind: 'sound'; readonly durationMs: number }
  | {
      readonly kind: 'film';
      readonly durationMs: number;
      /** As people will see it: upright, and no larger than the largest. */
      readonly widthPx: number;
      readonly heightPx: number;
      readonly frameRateFps: number;
      /** Empty: the picture stays as it is, bit for bit. */
      readonly changes: readonly FilmChange[];
      /** `null`: there is none. */
      readonly sound: 'copy' | 'encode' | null;
    };

export const LARGEST_PX = { width: 1920, height: 1080 } as const;
const FASTEST_FPS = 60;
const RICHEST_BPS = 12_000_000;
/** As for encoders: a viewer who joins in between waits so long for a picture. */
const LONGEST_GAP_MS = 4000;
const PROFILES = new Set(['Constrained Baseline', 'Baseline', 'Main', 'High']);
const SAMPLE_RATES = new Set([44_100, 48_000]);

/** Decides what has to be done so that a file can be played everywhere and be part of a programme. */
export function planFilm({ durationMs, video, audio }: MediaFacts): Result<FilmPlan, FileRefusal> {
  if (!video && !audio) return refuse('file-unknown');
  if (durationMs === null || durationMs <= 0) return refuse('file-without-length');
  if (durationMs > FILE_LIMITS.longestMs) return refuse('file-too-long');
  if (!video) return succeed({ kind: 'sound', durationMs });
  if (video.widthPx < 2 || video.heightPx < 2) return refuse('film-unreadable');
  if (video.widthPx * video.heightPx > FILE_LIMITS.filmMostPixels) return refuse('film-too-many-pixels');
  const changes = changesOf(video);
  return succeed({
    kind: 'film',
    durationMs,
    ...shownSize(video),
    frameRateFps: Math.min(FASTEST_FPS, video.frameRateFps),
    changes,
    sound: audio && (canStay(audio) ? 'copy' : 'encode'),
  });
}

function changesOf(video: VideoFacts): FilmChange[] {
  const { codec, profile, pixelFormat, widthPx, heightPx } = video;
  const found: Readonly<Record<FilmChange, boolean>> = {
    codec: codec !== 'h264' || !PROFILES.has(profile),
    colours: pixelFormat !== 'yuv420p',
    'too-large': widthPx > LARGEST_PX.width || heightPx > LARGEST_PX.height || (widthPx | heightPx) % 2 === 1,
    'too-fast': video.frameRateFps > FASTEST_FPS,
    turned: video.turnedDegrees % 360 !== 0,
    interlaced: video.isInterlaced,
    keyframes: (video.longestKeyframeGapMs ?? 0) > LONGEST_GAP_MS,
    'too-rich': (video.bitrateBps ?? 0) > RICHEST_BPS,
  };
  return FILM_CHANGES.filter((change) => found[change]);
}

const canStay = ({ codec, profile, channels, sampleRateHz }: AudioFacts): boolean =>
  codec === 'aac' && profile === 'LC' && channels <= 2 && SAMPLE_RATES.has(sampleRateHz);

/** Upright, scaled down into the largest, both sides even. */
function shownSize({ widthPx, heightPx, turnedDegrees }: VideoFacts): { widthPx: number; heightPx: number } {
  const isAcross = Math.abs(turnedDegrees) % 180 === 90;
  const [width, height] = isAcross ? [heightPx, widthPx] : [widthPx, heightPx];
  const scale = Math.min(1, LARGEST_PX.width / width, LARGEST_PX.height / height);
  const even = (px: number): number => Math.max(2, 2 * Math.floor((px * scale) / 2));
  return { widthPx: even(width), heightPx: even(height) };
}
