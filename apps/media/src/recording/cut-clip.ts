import type { DesiredClip } from '@heliphon/core/control/desired-state';
import { segmentsOfClip } from '@heliphon/core/packaging/clip-range';
import type { Programme } from '../programme/programme.js';
import type { Rendition } from '../renditions/rendition.js';
import { type IndexedSegment, RecordingFolder } from './recording-folder.js';

/**
 * Makes a separate recording of a stretch of a programme, while that runs or afterwards. Begun again after a crash, it
 * makes the same one.
 * @returns false where there is no picture in that stretch.
 */
export async function cutClip(
  mediaFolder: string,
  { clipId, houseId, fromUtcMs, toUtcMs }: DesiredClip,
  { folder, rendition, life, startsAtUtcMs }: Programme,
): Promise<boolean> {
  const { kept, open } = await takeStock(folder, rendition);
  const segments = segmentsOfClip(open ? [...kept, open] : kept, { fromUtcMs, toUtcMs });
  const [first, last] = [segments[0], segments.at(-1)];
  if (!first || !last) return false;
  const clip = await RecordingFolder.open(mediaFolder, houseId, clipId);
  await clip.takeFrom(folder, segments, open?.sequence ?? null);
  const endMs = last.programmeMs + last.durationSeconds * 1000;
  const doorsAtMs = 'doorsAtMs' in life ? life.doorsAtMs : startsAtUtcMs;
  await clip.writeFacts({
    houseId,
    programmeId: clipId,
    life: { state: 'kept', doorsAtMs, airAtMs: first.utcMs, endAtMs: doorsAtMs + endMs, cause: 'by-hand' },
    lastCommandId: null,
    airAtProgrammeMs: first.programmeMs,
    endAtProgrammeMs: endMs,
  });
  return true;
}

/** All that lies on the disk at one moment: whole segments, and the one that is being written. */
async function takeStock(
  folder: RecordingFolder,
  rendition: Rendition,
): Promise<{ kept: readonly IndexedSegment[]; open: IndexedSegment | null }> {
  for (;;) {
    const kept = [...rendition.keptSegments];
    const open = await folder.readOpen();
    // None was closed meanwhile: between the last that is kept and the open one nothing is missing.
    if (rendition.keptSegments.length === kept.length) return { kept, open };
  }
}
