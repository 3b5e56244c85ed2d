import {
  contrastRatio,
  formatColour,
  fromOklch,
  parseColour,
  relativeLuminance,
  type Rgb,
  toOklch,
} from './colour.js';

const STEPS = 400;

/**
 * The colour nearest to one that does not show well enough: its hue stays, its lightness is moved as little as needed, its
 * chroma only where a screen asks for it.
 *
 * @param behind - everything it stands on.
 * @param ratio - the contrast it must have with each of them.
 * @returns `null` where nothing of that hue shows on all of them.
 */
export function nearestPassing(colour: Rgb, behind: readonly Rgb[], ratio: number): Rgb | null {
  const passes = (candidate: Rgb): boolean =>
    behind.every((ground) => contrastRatio(candidate, ground) >= ratio);
  if (passes(asWritten(colour))) return asWritten(colour);
  if (!somethingPasses(behind.map(relativeLuminance), ratio)) return null;
  const own = toOklch(colour);
  const at = (lightness: number): Rgb | null => {
    if (lightness < 0 || lightness > 1) return null;
    const candidate = asWritten(fromOklch({ ...own, lightness }));
    return passes(candidate) ? candidate : null;
  };
  for (let step = 1; step <= STEPS; step += 1) {
    const found = at(own.lightness - step / STEPS) ?? at(own.lightness + step / STEPS);
    if (found) return found;
  }
  return at(0) ?? at(1);
}

/** Whether there is a luminance at all that has the contrast with each; if so, the extremes or a bound of one has it. */
function somethingPasses(grounds: readonly number[], ratio: number): boolean {
  const bounds = grounds.flatMap((ground) => [
    (ground + 0.05) * ratio - 0.05,
    (ground + 0.05) / ratio - 0.05,
  ]);
  const has = (luminance: number, ground: number): boolean =>
    (Math.max(luminance, ground) + 0.05) / (Math.min(luminance, ground) + 0.05) >= ratio - 1e-9;
  return [0, 1, ...bounds].some(
    (luminance) => luminance >= 0 && luminance <= 1 && grounds.every((ground) => has(luminance, ground)),
  );
}

/** What is kept is eight bits a part: what passes has to pass as that. */
const asWritten = (colour: Rgb): Rgb => parseColour(formatColour(colour));
