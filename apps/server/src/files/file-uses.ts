import { In, IsNull } from 'typeorm';
import type { FileUse } from '@heliphon/contracts/files';
import { EventEntity } from '../events/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { RecordingEntity } from '../recordings/recording.entity.js';
import { SeriesEntity } from '../series/series.entity.js';

/** What uses these files, by their ids; a series once for all the dates that follow it. */
export async function usesOf(
  scope: HouseScope,
  fileIds: readonly string[],
): Promise<ReadonlyMap<string, readonly FileUse[]>> {
  const uses = new Map<string, FileUse[]>(fileIds.map((id) => [id, []]));
  if (fileIds.length === 0) return uses;
  const asPoster = { posterId: In([...fileIds]) };
  const select = { id: true, title: true, posterId: true } as const;
  const [series, events, recordings] = await Promise.all([
    scope.find(SeriesEntity, { select, where: asPoster }),
    scope.find(EventEntity, {
      select: { ...select, seriesId: true, startsAtMs: true },
      where: { ...asPoster, rehearsalOf: IsNull() },
      order: { startsAtMs: 'DESC' },
    }),
    scope.find(RecordingEntity, { select, where: asPoster }),
  ]);
  const add = (fileId: string | null, use: FileUse): void => void (fileId && uses.get(fileId)?.push(use));
  for (const { id, title, posterId } of series) add(posterId, { of: 'series', id, title, as: 'poster' });
  for (const { id, title, posterId, seriesId } of events)
    if (!series.some((one) => one.id === seriesId && one.posterId === posterId))
      add(posterId, { of: 'event', id, title, as: 'poster' });
  for (const { id, title, posterId } of recordings)
    add(posterId, { of: 'recording', id, title: title ?? 'A recording', as: 'poster' });
  return uses;
}
