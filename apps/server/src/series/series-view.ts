import { In } from 'typeorm';
import { occurrencesOf } from '@heliphon/core/schedule/recurrence';
import type { SeriesDate } from '@heliphon/contracts/series';
import { dutiesOf, eventDuty } from '../schedule/event-duties.js';
import { EventEntity } from '../tables/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { repetitionOf } from './series-dates.js';
import { type SeriesEntity, SeriesSkipEntity } from '../tables/series.entity.js';

const SHOWN = 10;

/** The next dates of a series, with the events that have come into being for them; skipped ones stay in sight. */
export async function nextDates(
  scope: HouseScope,
  series: SeriesEntity,
  from: string,
  until: string,
): Promise<SeriesDate[]> {
  const dates = occurrencesOf(repetitionOf(series), from, until, SHOWN);
  const [events, skips] = await Promise.all([
    scope.find(EventEntity, {
      where: { seriesId: series.id, seriesDate: In(dates.map(({ date }) => date)) },
    }),
    scope.find(SeriesSkipEntity, { where: { seriesId: series.id } }),
  ]);
  const duties = await dutiesOf(
    scope,
    events.map(({ id }) => id),
  );
  return dates.map((occurrence) => {
    const event = events.find(({ seriesDate }) => seriesDate === occurrence.date);
    return {
      ...occurrence,
      isSkipped: skips.some(({ date }) => date === occurrence.date),
      event: event
        ? {
            id: event.id,
            title: event.title,
            startsAtMs: event.startsAtMs,
            state: event.state,
            ownFields: event.ownFields,
            duties: duties.filter(({ eventId }) => eventId === event.id).map(eventDuty),
          }
        : null,
    };
  });
}
