import { EVENT_SETTINGS } from '@heliphon/core/schedule/event-settings';
import { type FindOptionsWhere, In, IsNull, Raw } from 'typeorm';
import { mergeSpans, type Span } from '@heliphon/core/schedule/clashes';
import { EVENT_LIMITS } from '@heliphon/contracts/events';
import type { EventEntity } from '../tables/event.entity.js';

const MINUTE_MS = 60_000;
/** A few rows more cost less than a condition for each of a hundred times. */
const DAY_MS = 24 * 60 * MINUTE_MS;
/** Whatever runs at an instant begins within these of it: found by the index of starts. */
const BEFORE_MS = (EVENT_LIMITS.longestHours * 60 + EVENT_SETTINGS.overrunMinutes.most) * MINUTE_MS;
const AFTER_MS = EVENT_SETTINGS.doorsMinutes.most * MINUTE_MS;

/** Events that are planned or run, doors and overrun included, at any of these times or less than a day between them; rehearsals and drafts are in nobody's way. */
export function meanwhile(spans: readonly Span[]): FindOptionsWhere<EventEntity> {
  const merged = mergeSpans(spans, DAY_MS);
  const parameters = merged.flatMap(({ fromMs, toMs }, nth) => [
    [`least${nth}`, new Date(fromMs - BEFORE_MS)],
    [`most${nth}`, new Date(toMs + AFTER_MS)],
    [`from${nth}`, new Date(fromMs)],
    [`to${nth}`, new Date(toMs)],
  ]);
  const during = (startsAt: string): string =>
    merged
      .map(
        (_, nth) =>
          `(${startsAt} BETWEEN :least${nth} AND :most${nth} AND doors_due_at < :to${nth} AND hard_stop_at > :from${nth})`,
      )
      .join(' OR ');
  return {
    startsAtMs: Raw((startsAt) => `(${during(startsAt)})`, Object.fromEntries(parameters)),
    state: In(['planned', 'doors', 'air']),
    rehearsalOf: IsNull(),
    isDraft: false,
  };
}
