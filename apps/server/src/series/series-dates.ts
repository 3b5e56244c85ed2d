import { type EntityManager, In, MoreThanOrEqual } from 'typeorm';
import { onDutyByTurns, type OnDuty } from '@heliphon/core/duties/duties';
import { addDays, localOf } from '@heliphon/core/schedule/civil-time';
import {
  type Occurrence,
  occurrencesOf,
  readRule,
  type Repetition,
} from '@heliphon/core/schedule/recurrence';
import {
  AHEAD_DAYS,
  planSeries,
  type SeriesField,
  type SeriesPlan,
} from '@heliphon/core/schedule/series-plan';
import { followTurns, setDuties, turnsOf } from '../schedule/event-duties.js';
import { takeAddress } from '../events/event-addresses.js';
import { placesOf, setDestinations } from '../events/event-places.js';
import { dueInstants, settingsOf } from '../events/event-settings.js';
import { EventEntity } from '../tables/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { AddressEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { SeriesDestinationEntity, type SeriesEntity, SeriesSkipEntity } from '../tables/series.entity.js';

const MINUTE_MS = 60_000;
const MOST_AHEAD = AHEAD_DAYS + 1;
/** A daily series of fifty years. */
const MOST_TURNS = 20_000;

export const dayOf = (instantMs: number, zone: string): string => localOf(instantMs, zone).slice(0, 10);

export const timeIn = (instantMs: number, zone: string): string => localOf(instantMs, zone).slice(11);

/** What repeats, as core reads it; what was kept was checked when it came. */
export function repetitionOf({ rule, firstDate, timeOfDay, zone }: SeriesEntity): Repetition {
  const read = readRule(rule);
  if (!read.ok) throw new Error(`A series with a rule that cannot be read: ${rule}`);
  return { rule: read.value, firstDate, timeOfDay, zone };
}

/** What the dates from now on should be, and what has to be done for it. */
export async function planDates(
  scope: HouseScope,
  series: SeriesEntity,
  nowMs: number,
): Promise<SeriesPlan & { readonly until: string }> {
  const until = dayOf(addDays(nowMs, AHEAD_DAYS, series.zone), series.zone);
  const today = dayOf(nowMs, series.zone);
  const ahead = await scope.find(EventEntity, {
    where: { seriesId: series.id, seriesDate: MoreThanOrEqual(today) },
  });
  const skips = await scope.find(SeriesSkipEntity, { where: { seriesId: series.id } });
  const plan = planSeries(
    occurrencesOf(repetitionOf(series), today, until, MOST_AHEAD),
    ahead.map(({ id, seriesDate, state, ownFields }) => ({
      eventId: id,
      date: seriesDate!,
      state,
      ownFields,
    })),
    new Set(skips.map(({ date }) => date)),
  );
  // What would have begun already today is not made any more.
  return { ...plan, make: plan.make.filter(({ startsAtMs }) => startsAtMs > nowMs), until };
}

/**
 * Lets the events of a series be its dates: new ones come into being, planned ones take what the series says now but for
 * what is their own, those on days that are no dates any more go.
 * @returns the events that were touched.
 */
export async function bringDates(
  scope: HouseScope,
  manager: EntityManager,
  series: SeriesEntity,
  nowMs: number,
): Promise<string[]> {
  const plan = await planDates(scope, series, nowMs);
  const given: Given = {
    places: await seriesPlaces(scope, series.id),
    people: await peopleByTurns(scope, series, plan.until),
  };
  for (const { eventId } of plan.remove) {
    await scope.remove(EventEntity, { id: eventId });
    // Nobody waits there: the address is free for the day it may come back.
    await manager.delete(AddressEntity, { targetId: eventId });
  }
  const touched = plan.remove.map(({ eventId }) => eventId);
  for (const occurrence of plan.make)
    touched.push(await makeEvent(scope, manager, series, given, occurrence));
  const events = await scope.find(EventEntity, {
    where: { id: In(plan.follow.map(({ eventId }) => eventId)) },
  });
  for (const { eventId, occurrence } of plan.follow) {
    const event = events.find(({ id }) => id === eventId)!;
    if (await follow(scope, event, series, given, occurrence)) touched.push(eventId);
  }
  if (series.plannedUntil !== plan.until) {
    series.plannedUntil = plan.until;
    await scope.save(series);
  }
  return touched;
}

export async function seriesPlaces(scope: HouseScope, seriesId: string): Promise<string[]> {
  const links = await scope.find(SeriesDestinationEntity, { where: { seriesId } });
  return links.map(({ destinationId }) => destinationId);
}

/** What the dates of a series get besides their settings. */
interface Given {
  readonly places: readonly string[];
  readonly people: (date: string) => readonly OnDuty[];
}

/**
 * Who is on duty on which date. Turns are counted by the rule from its first date on, so that a date that is left out
 * changes nobody else's.
 */
async function peopleByTurns(
  scope: HouseScope,
  series: SeriesEntity,
  until: string,
): Promise<Given['people']> {
  const turns = await turnsOf(scope, series.id);
  if (turns.length === 0) return () => [];
  const all = occurrencesOf(repetitionOf(series), series.firstDate, until, MOST_TURNS);
  const turnOn = new Map(all.map(({ date }, turn) => [date, turn]));
  return (date) => onDutyByTurns(turns, turnOn.get(date) ?? 0);
}

/** What a series gives each of its dates. */
function givenBy(series: SeriesEntity, { startsAtMs }: Occurrence) {
  return {
    title: series.title,
    channelId: series.channelId,
    sourceId: series.sourceId,
    zone: series.zone,
    startsAtMs,
    stopsAtMs: startsAtMs + series.lengthMinutes * MINUTE_MS,
    ...settingsOf(series),
  };
}

async function makeEvent(
  scope: HouseScope,
  manager: EntityManager,
  series: SeriesEntity,
  { places, people }: Given,
  occurrence: Occurrence,
): Promise<string> {
  const id = newId();
  const settings = givenBy(series, occurrence);
  const target = { houseId: series.houseId, kind: 'event', targetId: id } as const;
  await scope.add(EventEntity, {
    id,
    ...settings,
    ...dueInstants(settings),
    slug: await takeAddress(manager, `${series.slug}-${occurrence.date}`, target),
    state: 'planned',
    programmeId: newId(),
    grantsValidFromMs: 0,
    seriesId: series.id,
    seriesDate: occurrence.date,
    ownFields: [],
  });
  await setDestinations(scope, id, places);
  await setDuties(scope, id, people(occurrence.date));
  return id;
}

/** @returns whether anything had to change. */
async function follow(
  scope: HouseScope,
  event: EventEntity,
  series: SeriesEntity,
  { places, people }: Given,
  occurrence: Occurrence,
): Promise<boolean> {
  const own = new Set<SeriesField>(event.ownFields);
  const { startsAtMs, stopsAtMs, zone, ...plain } = givenBy(series, occurrence);
  const wanted = Object.fromEntries(
    Object.entries({ ...plain, ...(own.has('when') ? {} : { startsAtMs, stopsAtMs, zone }) }).filter(
      ([field]) => !own.has((field === 'filmMs' ? 'filmId' : field) as SeriesField),
    ),
  ) as Partial<EventEntity>;
  const isOther = (Object.keys(wanted) as (keyof EventEntity)[]).some(
    (field) => event[field] !== wanted[field],
  );
  if (isOther) {
    Object.assign(event, wanted);
    Object.assign(event, dueInstants(event));
    await scope.save(event);
  }
  const goesTo = await placesOf(scope, event.id);
  const isElsewhere = !own.has('destinationIds') && goesTo.toSorted().join() !== places.toSorted().join();
  if (isElsewhere) await setDestinations(scope, event.id, places);
  const isByOthers = !own.has('duties') && (await followTurns(scope, event.id, people(occurrence.date)));
  return isOther || isElsewhere || isByOthers;
}
