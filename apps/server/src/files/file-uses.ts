import { type FindOptionsWhere, In, IsNull } from 'typeorm';
import type { FileUse } from '@heliphon/contracts/files';
import { EventEntity } from '../tables/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { SeriesEntity } from '../tables/series.entity.js';

/** As what a file is used, and by which field. */
const USED_AS = { poster: 'posterId', film: 'filmId' } as const;
type UsedAs = keyof typeof USED_AS;

/** What uses these files, by their ids; a series once for all the dates that follow it. */
export async function usesOf(
  scope: HouseScope,
  fileIds: readonly string[],
): Promise<ReadonlyMap<string, readonly FileUse[]>> {
  const uses = new Map<string, FileUse[]>(fileIds.map((id) => [id, []]));
  if (fileIds.length === 0) return uses;
  for (const as of Object.keys(USED_AS) as UsedAs[]) await addPlanned(scope, fileIds, as, uses);
  const recordings = await scope.find(RecordingEntity, { where: { posterId: In([...fileIds]) } });
  const { id: houseId, name, slateSoundId } = await scope.ownHouse();
  uses.get(slateSoundId ?? '')?.push({ of: 'house', id: houseId, title: name, as: 'slate sound' });
  for (const { id, title, posterId } of recordings)
    uses.get(posterId!)!.push({ of: 'recording', id, title: title ?? 'A recording', as: 'poster' });
  return uses;
}

async function addPlanned(
  scope: HouseScope,
  fileIds: readonly string[],
  as: UsedAs,
  uses: ReadonlyMap<string, FileUse[]>,
): Promise<void> {
  const field = USED_AS[as];
  const where = { [field]: In([...fileIds]) };
  const series = await scope.find(SeriesEntity, {
    select: { id: true, title: true, [field]: true },
    where: where as FindOptionsWhere<SeriesEntity>,
  });
  const events = await scope.find(EventEntity, {
    select: { id: true, title: true, seriesId: true, startsAtMs: true, [field]: true },
    where: { ...where, rehearsalOf: IsNull() } as FindOptionsWhere<EventEntity>,
    order: { startsAtMs: 'DESC' },
  });
  for (const row of series) uses.get(row[field]!)!.push({ of: 'series', id: row.id, title: row.title, as });
  for (const row of events) {
    const follows = series.some(({ id, ...one }) => id === row.seriesId && one[field] === row[field]);
    if (!follows) uses.get(row[field]!)!.push({ of: 'event', id: row.id, title: row.title, as });
  }
}
