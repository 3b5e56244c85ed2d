import type { Observation, RecordingStop } from '@heliphon/core/control/observations';
import type { WholeLoudness } from '@heliphon/core/loudness/loudness-tally';
import { playingMs, withoutSlates } from '@heliphon/core/packaging/replay-range';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import type { Clock } from '../clock.js';
import type { Rendition } from '../renditions/rendition.js';

/** Tells what must not be lost of a programme: its life, and its recording. */
export class ProgrammeTeller {
  #stopped: RecordingStop | null = null;

  constructor(
    private readonly programmeId: string,
    private readonly clock: Clock,
    private readonly observe: (observation: Observation) => void,
  ) {}

  moved(life: EventLife): void {
    this.observe({ kind: 'programme-moved', programmeId: this.programmeId, life, atMs: this.clock.nowMs() });
  }

  /** Whether something is recorded, each change once. */
  recording(stopped: RecordingStop | null): void {
    if (this.#stopped === stopped) return;
    this.#stopped = stopped;
    const { programmeId } = this;
    const atMs = this.clock.nowMs();
    this.observe(
      stopped
        ? { kind: 'recording-stopped', programmeId, reason: stopped, atMs }
        : { kind: 'recording-resumed', programmeId, atMs },
    );
  }

  /** How much of it is kept, and how loud it was; `null` where nobody listened. */
  kept(rendition: Rendition, loudness: WholeLoudness | null): void {
    const segments = withoutSlates(rendition.replaySegments ?? []);
    this.observe({
      kind: 'recording-kept',
      programmeId: this.programmeId,
      durationMs: playingMs(segments),
      gapsMs: rendition.gapsMs,
      sizeBytes: segments.reduce((sum, segment) => sum + segment.sizeBytes, 0),
      loudness,
      atMs: this.clock.nowMs(),
    });
  }
}
