import type { RecordingStop } from '@heliphon/core/control/observations';
import type { PackagerOutput, Part, Segment } from '@heliphon/core/packaging/packager';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import type { IndexedSegment, RecordingFolder } from './recording-folder.js';

/** Writes a programme down part by part, and leaves it be while there is no room; live goes on either way. */
export class Recorder {
  #stopped: RecordingStop | null = null;
  #isWritingSegment = false;
  /** The next segment kept stands behind a hole. */
  #hasHole = false;

  constructor(
    private readonly folder: RecordingFolder,
    private readonly utcMsOf: (programmeMs: number) => number,
    /** A segment could not be kept after all. */
    private readonly onLost: (sequence: number) => void = () => undefined,
  ) {}

  /** Why nothing is being recorded; `null` while all is well. */
  get stopped(): RecordingStop | null {
    return this.#stopped;
  }

  setDisk(disk: DiskState): void {
    this.#stopped = disk === 'full' ? 'disk-full' : this.folder.failure ? 'disk-fault' : null;
  }

  /** A segment begins: from here on it is kept whole, or not at all. */
  begin(output: Extract<PackagerOutput, { type: 'segment-begun' }>): void {
    this.#isWritingSegment = this.#stopped !== 'disk-full';
    if (!this.#isWritingSegment) {
      this.#hasHole = true;
      return;
    }
    const { sequence, programmeMs, initNumber, isSlate } = output;
    const discontinuity = output.discontinuity || this.#hasHole;
    this.folder.beginSegment({
      sequence,
      programmeMs,
      utcMs: this.utcMsOf(programmeMs),
      initNumber,
      discontinuity,
      ...(isSlate ? { isSlate } : {}),
    });
  }

  part(part: Part): void {
    if (this.#isWritingSegment) this.folder.writePart(part);
  }

  /** The segment as the index holds it; `null` when it was not kept. */
  close(segment: Segment, sizeBytes: number): IndexedSegment | null {
    if (!this.#isWritingSegment) return null;
    const discontinuity = segment.discontinuity || this.#hasHole;
    this.#hasHole = false;
    const indexed = indexedOf(segment, {
      discontinuity,
      utcMs: this.utcMsOf(segment.programmeMs),
      sizeBytes,
    });
    void this.folder.closeSegment(indexed).then((isKept) => {
      if (isKept) return;
      this.#hasHole = true;
      this.onLost(segment.sequence);
    });
    return indexed;
  }
}

/**
 * Written out in full: a long event holds thousands of these, and V8 gives each one that is made by spreading an object
 * its own hidden class, which is larger than the object itself.
 */
function indexedOf(
  segment: Segment,
  { discontinuity, utcMs, sizeBytes }: Pick<IndexedSegment, 'discontinuity' | 'utcMs' | 'sizeBytes'>,
): IndexedSegment {
  const { sequence, programmeMs, durationSeconds, initNumber, firstPart, partCount } = segment;
  const { independent = true, isSlate } = segment;
  const indexed: IndexedSegment = {
    sequence,
    programmeMs,
    utcMs,
    durationSeconds,
    initNumber,
    discontinuity,
    independent,
    firstPart,
    partCount,
    sizeBytes,
  };
  return isSlate ? { ...indexed, isSlate } : indexed;
}
