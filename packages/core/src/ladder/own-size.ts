import { ladderCores, type LadderSource, planLadder, type RenditionWish } from './renditions.js';

/** Why a size that a house thought of would never be made. */
export type OwnSizeTrouble = 'not-smaller' | 'too-heavy';

/** What a house's cameras are taken to send while nobody knows. */
const USUAL_SOURCE: LadderSource = {
  widthPx: 1920,
  heightPx: 1080,
  frameRateFps: 30,
  videoBitrateBps: null,
};

/**
 * Holds a size against what the house's sources send, and what a machine carries at its best.
 * @param sources - that send now; none where none does
 * @param mostCores - of the strongest machine; `null` where none is here to ask
 */
export function ownSizeTrouble(
  wish: RenditionWish,
  sources: readonly LadderSource[],
  mostCores: number | null,
): OwnSizeTrouble | null {
  const among = sources.length > 0 ? sources : [USUAL_SOURCE];
  const fitting = among.flatMap((source) => {
    const { renditions } = planLadder([wish], source, Infinity);
    return renditions.length > 0 ? [ladderCores(renditions, source)] : [];
  });
  if (fitting.length === 0) return 'not-smaller';
  return mostCores !== null && Math.min(...fitting) > mostCores ? 'too-heavy' : null;
}
