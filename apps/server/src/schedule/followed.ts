import { type EntityManager, In, IsNull, MoreThan, Not } from 'typeorm';
import { isItsOwnSource, type Leads } from '@heliphon/core/ingest/source-kinds';
import { shownOf } from '@heliphon/core/schedule/series-plan';
import type { Shown } from '@heliphon/contracts/sources';
import { EventEntity } from '../tables/event.entity.js';
import { filmLength } from '../files/film-length.js';
import type { HouseScope } from '../platform/database.js';
import { refusedField } from '../platform/problems.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { SourceEntity } from '../tables/source.entity.js';

/** What wants a source: an event, and its series, as far as they are there yet. */
export interface Wanting {
  readonly eventId?: string;
  readonly seriesId?: string | null;
}

type Followed = Pick<SourceEntity, 'followsEventId' | 'followsSeriesId'>;

/** A day is a long event; what began before does not run any more. */
const LONGEST_MS = 2 * 24 * 3_600_000;

/**
 * Sees that a source is there, and that nothing would by it become its own source.
 * @returns the source, where there is one
 * @throws ProblemError 404 for an unknown source, 422 where it would show itself
 */
export async function checkSource(
  scope: HouseScope,
  sourceId: string | null | undefined,
  { eventId, seriesId }: Wanting,
): Promise<SourceEntity | null> {
  if (!sourceId) return null;
  const source = await scope.get(SourceEntity, sourceId, 'source');
  if (source.kind !== 'programme') return source;
  const leads = await leadsOf(scope);
  const starts = [eventId && eventNode(eventId), seriesId && seriesNode(seriesId)].filter(
    Boolean,
  ) as string[];
  for (const start of starts)
    if (isItsOwnSource(start, [...leads, { from: start, to: targetOf(source) }]))
      throw refusedField('sourceId', 'its-own-source');
  return source;
}

/**
 * Sees that what stands by is another source, of a kind that can.
 * @throws ProblemError 404 for an unknown source, 422 where it is the first, or a film
 */
export async function checkStandby(
  scope: HouseScope,
  {
    sourceId,
    standbySourceId,
  }: { readonly sourceId: string | null; readonly standbySourceId: string | null },
  wanting: Wanting,
): Promise<void> {
  if (standbySourceId === null) return;
  if (standbySourceId === sourceId) throw refusedField('standbySourceId', 'standby-is-first');
  const source = await checkSource(scope, standbySourceId, wanting);
  if (source?.kind === 'file') throw refusedField('standbySourceId', 'standby-is-film');
}

/** @throws ProblemError 422 where a source, following something else from now on, would make something its own source */
export async function checkFollowed(scope: HouseScope, source: SourceEntity): Promise<void> {
  const leads = await leadsOf(scope, source);
  const users = leads.filter(({ to }) => to === targetOf(source));
  for (const { from } of users)
    if (isItsOwnSource(from, leads)) throw refusedField('followsEventId', 'its-own-source');
}

const eventNode = (id: string): string => `event ${id}`;
const seriesNode = (id: string): string => `series ${id}`;
const targetOf = ({ followsEventId, followsSeriesId }: Followed): string =>
  followsEventId ? eventNode(followsEventId) : seriesNode(followsSeriesId ?? '');

/** Who follows whom in a house; one source may be given as it would be. */
async function leadsOf(scope: HouseScope, changed?: SourceEntity): Promise<Leads[]> {
  const kept = await scope.find(SourceEntity, { where: { kind: 'programme' } });
  const sources = kept.map((source) => (source.id === changed?.id ? changed : source));
  if (sources.length === 0) return [];
  const sourceId = In(sources.map(({ id }) => id));
  const targets = new Map(sources.map((source) => [source.id, targetOf(source)]));
  const events = await scope.find(EventEntity, {
    where: { sourceId, state: In(['planned', 'doors', 'air']) },
    select: { id: true, sourceId: true, seriesId: true },
  });
  const series = await scope.find(SeriesEntity, {
    where: { sourceId },
    select: { id: true, sourceId: true },
  });
  return [
    ...series.map(({ id, sourceId: of }) => ({ from: seriesNode(id), to: targets.get(of!)! })),
    ...events.flatMap(({ id, sourceId: of, seriesId }) => [
      { from: eventNode(id), to: targets.get(of!)! },
      ...(seriesId ? [{ from: seriesNode(seriesId), to: eventNode(id) }] : []),
    ]),
  ];
}

/** Sources that any number of events may have at once, by their ids. */
export async function sharedSources(scope: HouseScope): Promise<ReadonlySet<string>> {
  const rows = await scope.find(SourceEntity, { where: { kind: Not('device') }, select: { id: true } });
  return new Set(rows.map(({ id }) => id));
}

/** The event whose programme a source shows at this moment; `null` where there is none. */
export async function followedEvent(
  manager: EntityManager,
  { followsEventId, followsSeriesId }: Followed,
  nowMs: number,
): Promise<EventEntity | null> {
  if (followsEventId) return manager.findOneBy(EventEntity, { id: followsEventId });
  if (!followsSeriesId) return null;
  const around = await manager.find(EventEntity, {
    where: {
      seriesId: followsSeriesId,
      isDraft: false,
      rehearsalOf: IsNull(),
      startsAtMs: MoreThan(nowMs - LONGEST_MS),
    },
    order: { startsAtMs: 'ASC' },
    take: 10,
  });
  return shownOf(around, nowMs);
}

/** What a source shows has to be there, and of its kind. @throws ProblemError 404, or 422 naming the field */
export async function checkShown(scope: HouseScope, source: Shown): Promise<void> {
  const { kind, followsEventId, followsSeriesId, fileId } = source;
  if (followsEventId) await scope.get(EventEntity, followsEventId, 'event');
  if (followsSeriesId) await scope.get(SeriesEntity, followsSeriesId, 'series');
  if (fileId) await filmLength(scope, fileId, 'fileId');
  const isComplete =
    kind === 'device'
      ? !followsEventId && !followsSeriesId && !fileId
      : kind === 'file'
        ? Boolean(fileId)
        : Boolean(followsEventId) !== Boolean(followsSeriesId);
  if (!isComplete) throw refusedField(kind === 'file' ? 'fileId' : 'followsEventId', 'shown-missing');
}
