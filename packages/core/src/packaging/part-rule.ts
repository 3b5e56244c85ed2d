/** How a programme's parts are cut: one rule for its whole life, since a playlist's PART-TARGET never changes. */
export interface PartRule {
  /** `PART-TARGET`: no part is longer. */
  readonly targetSeconds: number;
  /** A part closes before the picture that would carry it past this. */
  readonly limitSeconds: number;
}

/** For all rates at which a third of a second is a whole number of pictures, nearly. */
export const USUAL_PART_RULE: PartRule = { targetSeconds: 0.35, limitSeconds: 0.34 };

/** Every part but a segment's last has at least so much of the target (RFC 8216bis, 4.4.3.7). */
export const LEAST_SHARE = 0.85;
/** Pictures further apart are a gap, or stand for so long that their parts are told in pieces anyway. */
const SLOWEST_SECONDS = 0.5;
/** A picture that comes a little late still belongs to its part. */
const SLACK = 1.02;

/** The rule for pictures that come `frameSeconds` apart. */
export function partRuleFor(frameSeconds: number): PartRule {
  const { targetSeconds, limitSeconds } = USUAL_PART_RULE;
  const usual = Math.floor(limitSeconds / frameSeconds);
  if (frameSeconds > SLOWEST_SECONDS || usual * frameSeconds >= LEAST_SHARE * targetSeconds * SLACK)
    return USUAL_PART_RULE;
  // One picture more: the first number of them that is long enough.
  const limit = (usual + 1) * frameSeconds * SLACK;
  return { targetSeconds: Math.ceil(limit * 1000 + 10) / 1000, limitSeconds: limit };
}

/** A rule that an earlier life of the programme went by. */
export const partRuleOf = (targetSeconds: number): PartRule =>
  targetSeconds === USUAL_PART_RULE.targetSeconds
    ? USUAL_PART_RULE
    : { targetSeconds, limitSeconds: targetSeconds - 0.01 };

/** How far players stay behind the edge: three parts (4.4.3.8). */
export const holdBackSeconds = (targetSeconds: number): number => 3 * targetSeconds;
