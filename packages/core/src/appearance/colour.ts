/** A colour of the sRGB space, each part 0 to 1. */
export interface Rgb {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
}

/** A colour by how it is seen: lightness 0 to 1, chroma from 0, hue in degrees. */
export interface Oklch {
  readonly lightness: number;
  readonly chroma: number;
  readonly hueDeg: number;
}

/** `#24405c`: what a look is written in. */
export const COLOUR_PATTERN = /^#[0-9a-f]{6}$/i;

/** @throws RangeError for anything but `#` and six hexadecimal digits */
export function parseColour(hex: string): Rgb {
  if (!COLOUR_PATTERN.test(hex)) throw new RangeError(`Not a colour: ${hex}`);
  const part = (at: number): number => parseInt(hex.slice(at, at + 2), 16) / 255;
  return { red: part(1), green: part(3), blue: part(5) };
}

export function formatColour({ red, green, blue }: Rgb): string {
  const digits = (part: number): string =>
    Math.round(clamp(part) * 255)
      .toString(16)
      .padStart(2, '0');
  return `#${digits(red)}${digits(green)}${digits(blue)}`;
}

/** From 0 (black) to 1 (white), as WCAG 2.2 defines relative luminance. */
export function relativeLuminance({ red, green, blue }: Rgb): number {
  return 0.2126 * toLinear(red) + 0.7152 * toLinear(green) + 0.0722 * toLinear(blue);
}

/** From 1 (equal) to 21 (black on white), as WCAG 2.2 defines contrast ratio. */
export function contrastRatio(one: Rgb, other: Rgb): number {
  const [darker, lighter] = [relativeLuminance(one), relativeLuminance(other)].sort((a, b) => a - b);
  return (lighter! + 0.05) / (darker! + 0.05);
}

/** @source Björn Ottosson, "A perceptual color space for image processing" (2020); also CSS Color 4, section 9.3 */
export function toOklch(colour: Rgb): Oklch {
  const [red, green, blue] = [toLinear(colour.red), toLinear(colour.green), toLinear(colour.blue)];
  const long = Math.cbrt(0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue);
  const medium = Math.cbrt(0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue);
  const short = Math.cbrt(0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue);
  const a = 1.9779984951 * long - 2.428592205 * medium + 0.4505937099 * short;
  const b = 0.0259040371 * long + 0.7827717662 * medium - 0.808675766 * short;
  return {
    lightness: 0.2104542553 * long + 0.793617785 * medium - 0.0040720468 * short,
    chroma: Math.hypot(a, b),
    hueDeg: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360,
  };
}

/** The colour, or where a screen cannot show it the one with less chroma that it can; lightness and hue stay. */
export function fromOklch(wanted: Oklch): Rgb {
  const whole = unboundedRgb(wanted);
  if (isShowable(whole)) return whole;
  let [shown, tooMuch] = [0, wanted.chroma];
  for (let step = 0; step < 24; step += 1) {
    const chroma = (shown + tooMuch) / 2;
    if (isShowable(unboundedRgb({ ...wanted, chroma }))) shown = chroma;
    else tooMuch = chroma;
  }
  const { red, green, blue } = unboundedRgb({ ...wanted, chroma: shown });
  return { red: clamp(red), green: clamp(green), blue: clamp(blue) };
}

/** A mixture as it is seen (CSS `color-mix(in oklab, …)`). @param share - of the first, 0 to 1 */
export function mixColours(first: Rgb, second: Rgb, share: number): Rgb {
  const [one, other] = [toOklch(first), toOklch(second)];
  const mixed = (pick: (colour: Oklch) => number): number => pick(one) * share + pick(other) * (1 - share);
  const a = mixed(({ chroma, hueDeg }) => chroma * Math.cos((hueDeg * Math.PI) / 180));
  const b = mixed(({ chroma, hueDeg }) => chroma * Math.sin((hueDeg * Math.PI) / 180));
  return fromOklch({
    lightness: mixed(({ lightness }) => lightness),
    chroma: Math.hypot(a, b),
    hueDeg: (Math.atan2(b, a) * 180) / Math.PI,
  });
}

function unboundedRgb({ lightness, chroma, hueDeg }: Oklch): Rgb {
  const hue = (hueDeg * Math.PI) / 180;
  const [a, b] = [chroma * Math.cos(hue), chroma * Math.sin(hue)];
  const long = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const medium = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const short = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return {
    red: fromLinear(4.0767416621 * long - 3.3077115913 * medium + 0.2309699292 * short),
    green: fromLinear(-1.2684380046 * long + 2.6097574011 * medium - 0.3413193965 * short),
    blue: fromLinear(-0.0041960863 * long - 0.7034186147 * medium + 1.707614701 * short),
  };
}

const EDGE = 1e-4;
const isShowable = ({ red, green, blue }: Rgb): boolean =>
  [red, green, blue].every((part) => part >= -EDGE && part <= 1 + EDGE);
const clamp = (part: number): number => Math.min(1, Math.max(0, part));

/** Parts that are in proportion to light, and back. */
export const toLinearRgb = (colour: Rgb): Rgb => eachPart(colour, toLinear);
export const fromLinearRgb = (colour: Rgb): Rgb => eachPart(colour, fromLinear);
const eachPart = ({ red, green, blue }: Rgb, change: (part: number) => number): Rgb => ({
  red: change(red),
  green: change(green),
  blue: change(blue),
});

/** The transfer function of sRGB (IEC 61966-2-1), and back. */
const toLinear = (part: number): number => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4);
const fromLinear = (part: number): number =>
  part <= 0.0031308 ? part * 12.92 : 1.055 * part ** (1 / 2.4) - 0.055;
