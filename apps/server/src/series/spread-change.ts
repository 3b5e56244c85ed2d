import { isSetting, type SettingName } from '@heliphon/core/schedule/event-settings';
import { In } from 'typeorm';
import { onDuty } from '@heliphon/core/duties/duties';
import type { SeriesField } from '@heliphon/core/schedule/series-plan';
import type { EditSeries, SeriesWhen, SpreadChange } from '@heliphon/contracts/series';
import { placesOf } from '../events/event-places.js';
import { dutiesOf } from '../schedule/event-duties.js';
import { EventEntity } from '../tables/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { ProblemError } from '../platform/problems.js';
import { dayOf, timeIn } from './series-dates.js';

/** A change of a series; a poster comes only from one of its events. */
export type SeriesChange = EditSeries & { readonly posterId?: string | null };

/** What dates had of their own, by their events' ids. */
export type OwnFields = Readonly<Record<string, readonly SeriesField[]>>;

/**
 * Takes what one date changed by itself as a change of its series. With `later` the dates before it keep what they have.
 * @returns the change, and what to give back when it is undone.
 * @throws ProblemError 409 where nothing is its own, or it was moved to another day
 */
export async function spreadOf(
  scope: HouseScope,
  event: EventEntity,
  to: SpreadChange['to'],
): Promise<{ readonly change: SeriesChange; readonly ownFields: OwnFields }> {
  const fields = event.ownFields;
  if (!event.seriesId || fields.length === 0) throw new ProblemError(409, 'nothing-of-its-own');
  const change = await valuesOf(scope, event, fields);
  const planned = await scope.find(EventEntity, { where: { seriesId: event.seriesId, state: 'planned' } });
  const earlier = planned.filter(({ seriesDate }) => to === 'later' && seriesDate! < event.seriesDate!);
  const ownFields = Object.fromEntries([event, ...earlier].map((date) => [date.id, date.ownFields]));
  for (const date of earlier) {
    date.ownFields = [...new Set([...date.ownFields, ...fields])];
    await scope.save(date);
  }
  event.ownFields = [];
  await scope.save(event);
  return { change, ownFields };
}

/** Gives dates back what was their own before a change was spread; those that have begun stay as they are. */
export async function giveBack(scope: HouseScope, ownFields: OwnFields): Promise<void> {
  const events = await scope.find(EventEntity, {
    where: { id: In(Object.keys(ownFields)), state: 'planned' },
  });
  for (const event of events) {
    event.ownFields = [...ownFields[event.id]!];
    await scope.save(event);
  }
}

async function valuesOf(
  scope: HouseScope,
  event: EventEntity,
  fields: readonly SeriesField[],
): Promise<SeriesChange> {
  const given: Readonly<Record<Exclude<SeriesField, SettingName>, SeriesChange>> = {
    title: { title: event.title },
    description: { description: event.description },
    when: fields.includes('when') ? timesOf(event) : {},
    channelId: { channelId: event.channelId },
    sourceId: { sourceId: event.sourceId },
    standbySourceId: { standbySourceId: event.standbySourceId },
    destinationIds: { destinationIds: await placesOf(scope, event.id) },
    duties: {
      duties: onDuty(await dutiesOf(scope, [event.id])).map(({ duty, personId }) => ({
        duty,
        personIds: [personId],
      })),
    },
    posterId: { posterId: event.posterId },
    filmId: { filmId: event.filmId },
  };
  const valueOf = (field: SeriesField): SeriesChange =>
    isSetting(field) ? { [field]: event[field] } : given[field];
  return Object.assign({}, ...fields.map(valueOf)) as SeriesChange;
}

/** The time of day and length of an event, for its series. @throws ProblemError 409 where it is on another day */
function timesOf(event: EventEntity): Pick<SeriesWhen, 'timeOfDay' | 'lengthMinutes'> {
  const day = dayOf(event.startsAtMs, event.zone);
  if (day !== event.seriesDate) throw new ProblemError(409, 'another-day');
  return {
    timeOfDay: timeIn(event.startsAtMs, event.zone),
    lengthMinutes: Math.round((event.stopsAtMs - event.startsAtMs) / 60_000),
  };
}
