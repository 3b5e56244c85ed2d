import { contrastRatio, formatColour, parseColour, type Rgb } from './colour.js';
import { GROUND_PICTURE_LIMITS, groundsOf } from './ground-picture.js';
import type { Look, LookColour } from './look.js';
import { nearestPassing } from './nearest-passing.js';
import { CONTRAST } from './contrast.js';

/** What colours stand on. */
export type LookGround = Extract<LookColour, 'ground' | 'sheet'>;

/** What each colour stands on, and how well it has to show there. */
const STANDS_ON = {
  text: { behind: ['ground', 'sheet'], needed: CONTRAST.words },
  links: { behind: ['ground', 'sheet'], needed: CONTRAST.words },
  names: { behind: ['sheet'], needed: CONTRAST.words },
  accent: { behind: ['ground', 'sheet'], needed: CONTRAST.shapes },
} as const satisfies Partial<
  Record<LookColour, { behind: readonly LookGround[]; needed: (typeof CONTRAST)[keyof typeof CONTRAST] }>
>;

export type CheckedColour = keyof typeof STANDS_ON;

/** A colour that does not show well enough. */
export interface PoorContrast {
  readonly part: CheckedColour;
  /** Where it shows worst. */
  readonly behind: LookGround;
  readonly ratio: number;
  readonly needed: number;
  /** The nearest colour that passes everywhere; `null` where what is behind it differs too much among itself. */
  readonly offer: string | null;
  /** How strong a veil over the page's picture would do as well, in per cent; `null` where none would, or there is none. */
  readonly veilPercent: number | null;
}

/** What of a look does not pass (WCAG 2.2, 1.4.3 and 1.4.11), in the order of the page. */
export function checkLook(look: Look): readonly PoorContrast[] {
  return Object.entries(STANDS_ON).flatMap(([name, { behind, needed }]) => {
    const part = name as CheckedColour;
    const colour = parseColour(look[part]);
    const grounds = groundsBehind(look, behind);
    const worst = grounds
      .map(({ on, colour: ground }) => ({ on, ratio: contrastRatio(colour, ground) }))
      .reduce((least, next) => (next.ratio < least.ratio ? next : least));
    if (worst.ratio >= needed) return [];
    const offer = nearestPassing(
      colour,
      grounds.map((ground) => ground.colour),
      needed,
    );
    const veilPercent = veilFor(look, colour, needed, behind);
    const { on, ratio } = worst;
    return [{ part, behind: on, ratio, needed, offer: offer && formatColour(offer), veilPercent }];
  });
}

const groundsBehind = (look: Look, behind: readonly LookGround[]): { on: LookGround; colour: Rgb }[] =>
  behind.flatMap((on) =>
    (on === 'ground' ? groundsOf(look) : [parseColour(look[on])]).map((colour) => ({ on, colour })),
  );

const VEIL_STEP = 5;

function veilFor(look: Look, colour: Rgb, needed: number, behind: readonly LookGround[]): number | null {
  const { picture } = look;
  if (!picture || !behind.includes('ground')) return null;
  const from = picture.veilPercent + VEIL_STEP;
  for (
    let veilPercent = from;
    veilPercent <= GROUND_PICTURE_LIMITS.mostVeilPercent;
    veilPercent += VEIL_STEP
  ) {
    const grounds = groundsBehind({ ...look, picture: { ...picture, veilPercent } }, behind);
    if (grounds.every((ground) => contrastRatio(colour, ground.colour) >= needed)) return veilPercent;
  }
  return null;
}
