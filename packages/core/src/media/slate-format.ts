import { decodeMs, type Frame, isPicture } from './frame.js';
import type { WholeTracks } from './track.js';

/** What a slate has to be so that it can stand in a programme without anything else changing. */
export interface SlateFormat {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly rateFps: number;
}

/** Before the first picture has come. */
export const FIRST_SLATE_FORMAT: SlateFormat = { widthPx: 1280, heightPx: 720, rateFps: 30 };

/** The still of a slate is drawn in these; one that fits a picture best is put into it. */
export const SLATE_SHAPES = {
  wide: { widthPx: 1920, heightPx: 1080 },
  square: { widthPx: 1080, heightPx: 1080 },
  tall: { widthPx: 1080, heightPx: 1920 },
} as const;
export type SlateShape = keyof typeof SLATE_SHAPES;

const RATES_FPS = { least: 10, most: 60 } as const;
/** The rate is counted over so much of the picture. */
const COUNTED_MS = 1000;
/** A run's first pictures are not counted: those of a second source that takes over pass by in a moment. */
const SETTLES_MS = 500;

/** The shape nearest to a picture's: 4:3 is nearer to wide than to square. */
export function slateShapeOf({ widthPx, heightPx }: Pick<SlateFormat, 'widthPx' | 'heightPx'>): SlateShape {
  const ratio = widthPx / heightPx;
  if (ratio > 1.2) return 'wide';
  return ratio < 1 / 1.2 ? 'tall' : 'square';
}

/** Learns from a programme's frames what its slate has to be like. */
export class SlateFormatWatch {
  #format: SlateFormat | null = null;
  #size: Pick<SlateFormat, 'widthPx' | 'heightPx'> | null = null;
  #beganMs: number | null = null;
  #firstMs: number | null = null;
  #pictures = 0;

  /** @param format - from an earlier life of the programme. */
  constructor(format: SlateFormat | null = null) {
    this.#format = format;
  }

  /** `null` until one and a half seconds of its picture have been seen. */
  get format(): SlateFormat | null {
    return this.#format;
  }

  /** Another run begins. */
  configure({ video }: WholeTracks): void {
    // Encoders cut odd pixels off; 4:2:0 has none (ITU-T H.264, 6.2).
    this.#size = { widthPx: evenOf(video.widthPx), heightPx: evenOf(video.heightPx) };
    this.#beganMs = null;
    this.#firstMs = null;
    this.#pictures = 0;
  }

  /** @returns whether the format is another one now */
  frame(frame: Frame): boolean {
    if (!this.#size || !isPicture(frame)) return false;
    const ms = decodeMs(frame);
    this.#beganMs ??= ms;
    if (ms - this.#beganMs < SETTLES_MS) return false;
    this.#firstMs ??= ms;
    const elapsedMs = ms - this.#firstMs;
    if (elapsedMs < COUNTED_MS) {
      this.#pictures += 1;
      return false;
    }
    const format = { ...this.#size, rateFps: usualRateFps((this.#pictures * 1000) / elapsedMs) };
    this.#size = null;
    const isOther = this.#format === null || nameOf(this.#format) !== nameOf(format);
    this.#format = format;
    return isOther;
  }
}

/** Names a format, also in a file's name. */
export const nameOf = ({ widthPx, heightPx, rateFps }: SlateFormat): string =>
  `${widthPx}x${heightPx}-${rateFps}`;

const usualRateFps = (rateFps: number): number =>
  Math.min(RATES_FPS.most, Math.max(RATES_FPS.least, Math.round(rateFps)));

const evenOf = (px: number): number => px - (px % 2);
