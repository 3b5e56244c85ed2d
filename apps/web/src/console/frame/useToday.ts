import { addDays, startOfDay } from '@heliphon/core/schedule/civil-time';
import type { EventView } from '@heliphon/contracts/events';
import { useEvents } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { useServerNow } from '../../data/server-clock.js';

const MINUTE_MS = 60_000;

/** Today's events, and the one that is on air. */
export function useToday(): {
  nowMs: number;
  dayMs: number;
  events: readonly EventView[];
  onAir: EventView | undefined;
} {
  const zone = useZone();
  const nowMs = useServerNow(MINUTE_MS / 6);
  const dayMs = startOfDay(nowMs, zone);
  const { data } = useEvents(dayMs, addDays(dayMs, 1, zone));
  const events = data?.items ?? [];
  return { nowMs, dayMs, events, onAir: events.find((event) => event.state === 'air') };
}
