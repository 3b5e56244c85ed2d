import { planOf } from '@heliphon/core/schedule/event-life';
import { type EventSettings, pickSettings, USUAL_SETTINGS } from '@heliphon/core/schedule/event-settings';
import { instantOf } from '@heliphon/core/schedule/civil-time';
import { EVENT_LIMITS } from '@heliphon/contracts/events';
import { refusedField } from '../platform/problems.js';
import type { EventEntity } from '../tables/event.entity.js';

/** No event is longer, so what clashes begins within it. */
export const LONGEST_MS = EVENT_LIMITS.longestHours * 3_600_000;

/** What one event can take over from another. */
export type EventTemplate = Pick<
  EventEntity,
  'description' | 'posterId' | 'filmId' | 'filmMs' | 'standbySourceId'
> &
  EventSettings;
export const USUAL_TEMPLATE: EventTemplate = {
  description: '',
  posterId: null,
  filmId: null,
  filmMs: 0,
  standbySourceId: null,
  ...USUAL_SETTINGS,
};
export const settingsOf = (event: EventTemplate): EventTemplate => ({
  description: event.description,
  posterId: event.posterId,
  filmId: event.filmId,
  filmMs: event.filmMs,
  standbySourceId: event.standbySourceId,
  ...pickSettings(event),
});

/** The instants of two local times in a zone. @throws ProblemError 422 naming the field */
export function checkedTimes(
  startsAtLocal: string,
  stopsAtLocal: string,
  zone: string,
): { startsAtMs: number; stopsAtMs: number } {
  const at = (path: string, local: string): number => {
    const instant = instantOf(local, zone);
    if (instant.ok) return instant.value;
    const params: Record<string, string> =
      instant.error.code === 'does-not-exist' ? { local, next: instant.error.nextLocal } : {};
    throw refusedField(path, `time-${instant.error.code}`, { zone, ...params });
  };
  const startsAtMs = at('startsAtLocal', startsAtLocal);
  const stopsAtMs = at('stopsAtLocal', stopsAtLocal);
  if (stopsAtMs <= startsAtMs) throw refusedField('stopsAtLocal', 'stop-before-start');
  if (stopsAtMs - startsAtMs > LONGEST_MS)
    throw refusedField('stopsAtLocal', 'too-long-event', { hours: EVENT_LIMITS.longestHours });
  return { startsAtMs, stopsAtMs };
}

/** What follows from an event's times and allowances. */
export function dueInstants(settings: Parameters<typeof planOf>[0]): {
  doorsDueAtMs: number;
  hardStopAtMs: number;
} {
  const plan = planOf(settings);
  return { doorsDueAtMs: plan.doorsAtMs, hardStopAtMs: plan.hardStopAtMs };
}
