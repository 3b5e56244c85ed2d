import { In, IsNull, MoreThan } from 'typeorm';
import type { SourceEvent } from '@heliphon/contracts/sources';
import { EventEntity } from '../tables/event.entity.js';
import { FileEntity } from '../tables/file.entity.js';
import type { HouseScope } from '../platform/database.js';
import { SeriesEntity } from '../tables/series.entity.js';
import type { SourceEntity } from '../tables/source.entity.js';

const EVENTS_SHOWN = 3;
/** What began before does not run any more. */
const LONGEST_MS = 2 * 24 * 3_600_000;
/** Events of a source that are looked through for the next ones: a year of Sundays for each of twenty. */
const EVENTS_READ = 1000;

/** The next events with each of these sources, by the sources' ids. */
export async function nextEvents(
  scope: HouseScope,
  rows: readonly SourceEntity[],
  nowMs: number,
): Promise<ReadonlyMap<string, readonly SourceEvent[]>> {
  if (rows.length === 0) return new Map();
  const found = await scope.find(EventEntity, {
    where: {
      sourceId: In(rows.map(({ id }) => id)),
      startsAtMs: MoreThan(nowMs - LONGEST_MS),
      state: In(['planned', 'doors', 'air']),
      isDraft: false,
      rehearsalOf: IsNull(),
    },
    select: { id: true, title: true, startsAtMs: true, sourceId: true },
    order: { startsAtMs: 'ASC' },
    take: EVENTS_READ,
  });
  const bySource = new Map<string, SourceEvent[]>();
  for (const { id, title, startsAtMs, sourceId } of found) {
    const own = bySource.get(sourceId!) ?? [];
    if (own.length < EVENTS_SHOWN) own.push({ id, title, startsAtMs });
    bySource.set(sourceId!, own);
  }
  return bySource;
}

/** What is shown by each source that shows something of the house, by the sources' ids. */
export async function namesOfShown(
  scope: HouseScope,
  rows: readonly SourceEntity[],
): Promise<ReadonlyMap<string, string>> {
  const idsOf = (field: 'followsEventId' | 'followsSeriesId' | 'fileId'): string[] =>
    rows.flatMap((row) => row[field] ?? []);
  const named = async (
    entity: typeof EventEntity | typeof SeriesEntity | typeof FileEntity,
    ids: string[],
  ): Promise<[string, string][]> => {
    if (ids.length === 0) return [];
    const found = await scope.find<EventEntity | SeriesEntity | FileEntity>(entity, {
      where: { id: In(ids) },
    });
    return found.map((one) => [one.id, 'title' in one ? one.title : one.name]);
  };
  const names = new Map([
    ...(await named(EventEntity, idsOf('followsEventId'))),
    ...(await named(SeriesEntity, idsOf('followsSeriesId'))),
    ...(await named(FileEntity, idsOf('fileId'))),
  ]);
  return new Map(
    rows.flatMap(({ id, followsEventId, followsSeriesId, fileId }) => {
      const name = names.get(followsEventId ?? followsSeriesId ?? fileId ?? '');
      return name === undefined ? [] : [[id, name] as const];
    }),
  );
}
