import { advisePicture, PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import type { SourceEvent, SourceView } from '@heliphon/contracts/sources';
import type { SourceEntity } from '../tables/source.entity.js';

export type AdviceRow = Pick<SourceEntity, 'adviceUploadBps' | 'adviceMeasuredAtMs' | 'adviceSize'>;
export const adviceRow = ({ adviceUploadBps, adviceMeasuredAtMs, adviceSize }: SourceEntity): AdviceRow => ({
  adviceUploadBps,
  adviceMeasuredAtMs,
  adviceSize,
});

/** What an encoder of this source is advised; `null` where nobody measured or chose. */
export function adviceOf(row: AdviceRow): SourceView['advice'] {
  const { adviceUploadBps: uploadBps, adviceMeasuredAtMs: measuredAtMs } = row;
  if (uploadBps === null && row.adviceSize === null) return null;
  const chosen = PICTURE_SIZES.find(({ name }) => name === row.adviceSize);
  return { uploadBps, measuredAtMs, size: chosen ?? advisePicture(uploadBps ?? 0) };
}

/** @param shows - what it shows is called, and `events` the next with it: in lists. */
export const sourceView = (
  row: SourceEntity,
  shows: string | null = null,
  events: readonly SourceEvent[] = [],
): SourceView => ({
  id: row.id,
  version: row.version,
  name: row.name,
  hasPassword: row.hasPassword,
  keyRenewedAtMs: row.keyRenewedAtMs,
  lastSeenAtMs: row.lastSeenAtMs,
  kind: row.kind,
  followsEventId: row.followsEventId,
  followsSeriesId: row.followsSeriesId,
  fileId: row.fileId,
  shows,
  events,
  advice: adviceOf(row),
  nodeId: row.nodeId,
  srt: row.srtSlot === null ? null : { latencyMs: row.srtLatencyMs },
});
