import { contrastRatio, formatColour, fromOklch, parseColour, type Rgb, toOklch } from './colour.js';
import { groundsOf } from './ground-picture.js';
import { CONTRAST } from './contrast.js';
import { LOOK_COLOURS, type Look, type LookColour } from './look.js';
import { nearestPassing } from './nearest-passing.js';

const LIGHTNESS = { ground: 0.2, sheet: 0.245, text: 0.93 } as const;
/** Grounds and words of the dark have a breath of the house's colour, no more. */
const MOST_CHROMA = 0.03;
/** What glows on dark ground tires the eye sooner: words have more than they need by day (WCAG 2.2, 1.4.6). */
const WORDS = 7;
const WHITE: Rgb = { red: 1, green: 1, blue: 1 };
const BLACK: Rgb = { red: 0, green: 0, blue: 0 };

export type LookColours = Pick<Look, LookColour>;
/** What colours have to show on, besides one another. */
export type DrawnLook = LookColours & Pick<Look, 'picture'>;

/** In the dark a picture is only guessed at. */
const LEAST_VEIL_PERCENT = 80;

/**
 * The colours of a look for a device that is set to the dark: grounds and words change places, and what stands on them
 * keeps its hue and is moved until it shows (WCAG 2.2). A page that is dark already stays as it is.
 */
export function nightLook(look: DrawnLook): DrawnLook {
  const colours = Object.fromEntries(LOOK_COLOURS.map((name) => [name, look[name]])) as LookColours;
  const day = { ...colours, picture: look.picture };
  const dayGround = parseColour(look.ground);
  if (contrastRatio(dayGround, WHITE) > contrastRatio(dayGround, BLACK)) return day;
  const dimmed = (colour: string, lightness: number): Rgb => {
    const { chroma, hueDeg } = toOklch(parseColour(colour));
    return parseColour(formatColour(fromOklch({ lightness, chroma: Math.min(chroma, MOST_CHROMA), hueDeg })));
  };
  const ground = dimmed(look.ground, LIGHTNESS.ground);
  const sheet = dimmed(look.sheet, LIGHTNESS.sheet);
  const picture = look.picture && {
    ...look.picture,
    veilPercent: Math.max(LEAST_VEIL_PERCENT, look.picture.veilPercent),
  };
  const grounds = [...groundsOf({ ground: formatColour(ground), picture }), sheet];
  // All of them are dark: white shows on each, so that there always is one that passes.
  const showing = (name: LookColour, ratio: number): string =>
    formatColour(nearestPassing(parseColour(look[name]), grounds, ratio)!);
  return {
    ...colours,
    picture,
    ground: formatColour(ground),
    sheet: formatColour(sheet),
    text: formatColour(dimmed(look.text, LIGHTNESS.text)),
    links: showing('links', WORDS),
    names: showing('names', WORDS),
    accent: showing('accent', CONTRAST.shapes),
  };
}
