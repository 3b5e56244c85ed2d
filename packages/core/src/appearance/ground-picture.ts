import {
  formatColour,
  fromLinearRgb,
  parseColour,
  relativeLuminance,
  type Rgb,
  toLinearRgb,
} from './colour.js';

/** How a picture lies behind the page: over all of it, or again and again. */
export const PICTURE_FITS = ['cover', 'tile'] as const;
export type PictureFit = (typeof PICTURE_FITS)[number];

export const GROUND_PICTURE_LIMITS = {
  bytes: 20_000_000,
  pixels: 100_000_000,
  leastPx: 200,
  fittedPx: 1920,
  mostVeilPercent: 95,
} as const;

/** A place in a picture, and what colour it has as a letter would cover it. */
export interface Spot {
  readonly colour: string;
  /** Shares of its width and height, 0 to 1. */
  readonly x: number;
  readonly y: number;
}

/** Where words show worst: dark ones on the darkest spot, light ones on the lightest. */
export interface Spots {
  readonly darkest: Spot;
  readonly lightest: Spot;
}

/** A picture behind the page, under a veil of the page's colour. */
export interface GroundPicture {
  readonly id: string;
  readonly fit: PictureFit;
  readonly veilPercent: number;
  readonly spots: Spots;
}

/** So many letters stand beside one another across a page. */
const CELLS_ACROSS = 64;

/**
 * The extremes of a picture, by cells about as large as a letter: a single pixel hides no word.
 * @param pixels - of sRGB, three bytes each, row by row
 */
export function spotsOf(pixels: Uint8Array, widthPx: number, heightPx: number): Spots {
  const sidePx = Math.max(1, Math.round(widthPx / CELLS_ACROSS));
  let darkest: Spot | null = null;
  let lightest: Spot | null = null;
  let [least, most] = [Infinity, -Infinity];
  for (let top = 0; top < heightPx; top += sidePx)
    for (let left = 0; left < widthPx; left += sidePx) {
      const right = Math.min(widthPx, left + sidePx);
      const bottom = Math.min(heightPx, top + sidePx);
      const colour = meanOf(pixels, widthPx, { left, top, right, bottom });
      const luminance = relativeLuminance(colour);
      const spot = (): Spot => ({
        colour: formatColour(colour),
        x: (left + right) / 2 / widthPx,
        y: (top + bottom) / 2 / heightPx,
      });
      if (luminance < least) [least, darkest] = [luminance, spot()];
      if (luminance > most) [most, lightest] = [luminance, spot()];
    }
  return { darkest: darkest!, lightest: lightest! };
}

interface Cell {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** As light adds up. */
function meanOf(pixels: Uint8Array, widthPx: number, { left, top, right, bottom }: Cell): Rgb {
  let [red, green, blue] = [0, 0, 0];
  for (let y = top; y < bottom; y += 1)
    for (let x = left; x < right; x += 1) {
      const at = (y * widthPx + x) * 3;
      const part = (index: number): number => pixels[at + index]! / 255;
      const linear = toLinearRgb({ red: part(0), green: part(1), blue: part(2) });
      red += linear.red;
      green += linear.green;
      blue += linear.blue;
    }
  const count = (right - left) * (bottom - top);
  return fromLinearRgb({ red: red / count, green: green / count, blue: blue / count });
}

/** What is seen of a colour through a veil, as browsers lay one over the other (CSS Compositing 1, "source over" in sRGB). */
export function veiled(colour: Rgb, veil: Rgb, percent: number): Rgb {
  const share = percent / 100;
  const part = (of: (one: Rgb) => number): number => of(veil) * share + of(colour) * (1 - share);
  return {
    red: part(({ red }) => red),
    green: part(({ green }) => green),
    blue: part(({ blue }) => blue),
  };
}

/** Everything that may lie behind words on the page itself: its colour, or the extremes of its picture through the veil. */
export function groundsOf(look: { readonly ground: string; readonly picture: GroundPicture | null }): Rgb[] {
  const ground = parseColour(look.ground);
  const { picture } = look;
  if (!picture) return [ground];
  const { darkest, lightest } = picture.spots;
  return [darkest, lightest].map(({ colour }) => veiled(parseColour(colour), ground, picture.veilPercent));
}
