import type { Stretch } from '@heliphon/core/schedule/rota';

/** As high as the strip is: two bars of the least size that can be pressed (WCAG 2.2, 2.5.8) stand under one another. */
const LANES = 2;
/** No bar is drawn shorter, however soon its event is over. */
const LEAST_HOURS = 0.6;

export interface LampStretch extends Stretch {
  readonly isOnAir: boolean;
}

/**
 * In which lane each bar of the day stands, so that none covers another; null where more go on at once than there are
 * lanes, and the week has to be looked at. What is on air always has the first.
 */
export function placeLampLanes(bars: readonly LampStretch[]): readonly (number | null)[] {
  const lanes: LampStretch[][] = Array.from({ length: LANES }, () => []);
  const placed = new Map<LampStretch, number>();
  for (const bar of bars.toSorted((one, other) => Number(other.isOnAir) - Number(one.isOnAir))) {
    const lane = lanes.findIndex((others) => !others.some((other) => meet(bar, other)));
    if (lane === -1) continue;
    lanes[lane]!.push(bar);
    placed.set(bar, lane);
  }
  return bars.map((bar) => placed.get(bar) ?? null);
}

const endOf = ({ fromHour, toHour }: Stretch): number => Math.max(toHour, fromHour + LEAST_HOURS);
const meet = (one: Stretch, other: Stretch): boolean =>
  one.fromHour < endOf(other) && other.fromHour < endOf(one);
