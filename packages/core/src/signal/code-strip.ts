/**
 * A strip of black and white cells at the foot of a test film that carries the frame's number, so that a program can
 * tell which frame it sees. Places are fractions of the picture, so the strip survives scaling.
 */
const SYNC = [1, 0, 1] as const;
const NUMBER_BITS = 12;
export const STRIP_CELLS = SYNC.length + NUMBER_BITS + 1;

/** The strip's place in a picture of 1280 × 720, in pixels. */
export const STRIP_PX = {
  left: 16,
  top: 692,
  cellWidth: 20,
  cellHeight: 20,
  ofWidth: 1280,
  ofHeight: 720,
} as const;

/** The cells of a frame's number, 1 for white: sync, the number's bits, and one for even parity. */
export function stripCells(frame: number): number[] {
  const bits = Array.from({ length: NUMBER_BITS }, (_, index) => (frame >> (NUMBER_BITS - 1 - index)) & 1);
  const parity = bits.reduce((sum, bit) => sum ^ bit, 0);
  return [...SYNC, ...bits, parity];
}

/** Where the middle of each cell lies, as fractions of width and height. */
export function stripCentres(): { x: number; y: number }[] {
  const { left, top, cellWidth, cellHeight, ofWidth, ofHeight } = STRIP_PX;
  return Array.from({ length: STRIP_CELLS }, (_, cell) => ({
    x: (left + (cell + 0.5) * cellWidth) / ofWidth,
    y: (top + cellHeight / 2) / ofHeight,
  }));
}

/** The number in the strip; `null` where there is none. @param lumas - 0 to 255 at each centre. */
export function readStrip(lumas: readonly number[]): number | null {
  const cells = lumas.map((luma) => (luma > 127 ? 1 : 0));
  if (cells.length !== STRIP_CELLS || SYNC.some((bit, index) => cells[index] !== bit)) return null;
  const bits = cells.slice(SYNC.length, SYNC.length + NUMBER_BITS);
  if (bits.reduce<number>((sum, bit) => sum ^ bit, 0) !== cells.at(-1)) return null;
  return bits.reduce<number>((number, bit) => number * 2 + bit, 0);
}
