/** A tiny picture of brightness, one byte a cell, as the check wants it. */
export const CHECK_PICTURE = { widthPx: 32, heightPx: 18 } as const;

/** What is wrong with a picture that comes but shows nothing, and since when on the clock that was passed in. */
export interface PictureCheck {
  readonly blackSinceMs: number | null;
  readonly frozenSinceMs: number | null;
}

export interface PictureCheckState extends PictureCheck {
  readonly last: Uint8Array | null;
  /** Since when nothing has moved, whether or not that is long enough to be called frozen. */
  readonly stillSinceMs: number | null;
}

export const NO_PICTURE_CHECKED: PictureCheckState = {
  blackSinceMs: null,
  frozenSinceMs: null,
  stillSinceMs: null,
  last: null,
};

/** Video black is 16; a dark chapel at night has something brighter than this somewhere. */
const BLACK_LEVEL = 24;
/** Compression alone moves a cell by less. */
const STILL_DIFFERENCE = 2;
/** A slide may stand; a camera that shows the very same picture for so long has stopped. */
const FROZEN_AFTER_MS = 20_000;

/** Looks at the next picture, a keyframe made small. */
export function checkPicture(state: PictureCheckState, cells: Uint8Array, nowMs: number): PictureCheckState {
  const isBlack = cells.every((cell) => cell <= BLACK_LEVEL);
  const isStill = state.last !== null && largestDifference(cells, state.last) <= STILL_DIFFERENCE;
  const stillSinceMs = isStill ? (state.stillSinceMs ?? nowMs) : nowMs;
  return {
    last: cells,
    blackSinceMs: isBlack ? (state.blackSinceMs ?? nowMs) : null,
    stillSinceMs,
    frozenSinceMs: isStill && !isBlack && nowMs - stillSinceMs >= FROZEN_AFTER_MS ? stillSinceMs : null,
  };
}

function largestDifference(a: Uint8Array, b: Uint8Array): number {
  let largest = 0;
  for (let index = 0; index < a.length; index += 1)
    largest = Math.max(largest, Math.abs(a[index]! - (b[index] ?? 0)));
  return largest;
}
