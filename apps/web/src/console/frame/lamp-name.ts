import type { Ruler, Stretch } from '@heliphon/core/schedule/rota';

/** From this length on, a bar is wide enough to hold its own name. */
const WIDE_HOURS = 3;
/** A name needs about so much free ruler beside its bar. */
const NAME_HOURS = 1.4;

/** Where a bar's name stands, and how many hours of the ruler it may take. */
export interface LampName {
  readonly side: 'inside' | 'after' | 'before';
  readonly hours: number;
}

const isWide = ({ fromHour, toHour }: Stretch): boolean => toHour - fromHour >= WIDE_HOURS;

/** How many hours are free behind a bar; none where another goes on there. */
function roomAfter(bar: Stretch, bars: readonly Stretch[], ruler: Ruler): number {
  const later = bars.filter((other) => other !== bar && other.toHour > bar.toHour);
  return (
    Math.min(ruler.toHour + 0.3, ...later.map(({ fromHour }) => Math.max(fromHour, bar.toHour))) - bar.toHour
  );
}

/**
 * A place for the name of every bar of the day, in order: inside a long one, else after it, else (late in the
 * evening, when the ruler ends) before it; null where neighbours leave no room.
 */
export function placeLampNames(bars: readonly Stretch[], ruler: Ruler): readonly (LampName | null)[] {
  return bars.map((bar, index) => {
    if (isWide(bar)) return { side: 'inside', hours: bar.toHour - bar.fromHour };
    const after = roomAfter(bar, bars, ruler);
    if (after > NAME_HOURS) return { side: 'after', hours: after };
    const previous = bars[index - 1];
    if (previous && !isWide(previous)) return null;
    const before = bar.fromHour - (previous?.toHour ?? ruler.fromHour);
    return before > NAME_HOURS ? { side: 'before', hours: before } : null;
  });
}
