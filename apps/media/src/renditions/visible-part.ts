import type { GrantClass } from '@heliphon/core/access/grant';
import { sinceLeg } from '@heliphon/core/packaging/legs';
import {
  advanceWindow,
  EMPTY_WINDOW,
  endWindow,
  type LiveWindow,
  windowFrom,
  windowFromSegments,
  windowSince,
} from '@heliphon/core/packaging/live-window';
import type { PackagerOutput } from '@heliphon/core/packaging/packager';
import {
  findSegment,
  isBetween,
  playingMs,
  segmentsBetween,
  withoutSlates,
} from '@heliphon/core/packaging/replay-range';
import type { IndexedSegment } from '../recording/recording-folder.js';

export type SegmentAccess = 'open' | 'hidden' | 'unknown';

/** What may be seen of a programme, and by whom: the desk sees all of it, the public what lies between air and end. */
export class VisiblePart {
  #window: LiveWindow = EMPTY_WINDOW;
  #publicWindow: { of: LiveWindow; window: LiveWindow } | null = null;
  #airAtMs: number | null = null;
  /** On the programme's own time; `null` before. */
  endAtMs: number | null = null;
  /** Whether the replay shows the slate where it stood. */
  keepsGaps = false;
  #replay: { readonly made: string; readonly segments: readonly IndexedSegment[] } | null = null;

  /** @param segments - those that are kept, in order. */
  constructor(readonly segments: IndexedSegment[]) {}

  /** On the programme's own time; `null` before. */
  get airAtMs(): number | null {
    return this.#airAtMs;
  }

  set airAtMs(ms: number | null) {
    this.#airAtMs = ms;
    this.#publicWindow = null;
  }

  /** What a class of viewers may see now; `null` before its time. */
  windowFor(grantClass: GrantClass): LiveWindow | null {
    if (grantClass === 'desk') return this.#window;
    if (this.#airAtMs === null) return null;
    // The same object until something changes: texts are rendered once for everybody who holds it.
    if (this.#publicWindow?.of !== this.#window)
      this.#publicWindow = { of: this.#window, window: windowFrom(this.#window, this.#airAtMs) };
    return this.#publicWindow.window;
  }

  /** The same list for as long as nothing changes: what is made of it is kept with it. `null` before the end. */
  get replay(): readonly IndexedSegment[] | null {
    if (this.#airAtMs === null || this.endAtMs === null) return null;
    const made = [this.#airAtMs, this.endAtMs, this.segments.length, this.keepsGaps].join();
    if (this.#replay?.made === made) return this.#replay.segments;
    const whole = segmentsBetween(this.segments, this.#airAtMs, this.endAtMs);
    this.#replay = { made, segments: this.keepsGaps ? whole : withoutSlates(whole) };
    return this.#replay.segments;
  }

  /** How long a slate stood between air and end. */
  get gapsMs(): number {
    const whole = segmentsBetween(this.segments, this.#airAtMs ?? 0, this.endAtMs ?? 0);
    return playingMs(whole) - playingMs(withoutSlates(whole));
  }

  /**
   * Whether a class may have the media of a segment, in whatever pieces: the one place where that is decided. The public
   * gets what lies between air and end; of a segment that nobody knows, nothing.
   */
  accessTo(grantClass: GrantClass, sequence: number): SegmentAccess {
    if (grantClass === 'desk') return 'open';
    if (this.#airAtMs === null) return 'hidden';
    const { begun, segments } = this.#window;
    if (begun?.sequence === sequence) return 'open';
    const known =
      findSegment(this.segments, sequence) ??
      segments.find(({ segment }) => segment.sequence === sequence)?.segment;
    if (!known) return 'unknown';
    return isBetween(known, this.#airAtMs, this.endAtMs ?? Infinity) ? 'open' : 'hidden';
  }

  /** Where what is kept ends, on the programme's own time. */
  get keptUntilMs(): number {
    const last = this.segments.at(-1);
    return last ? last.programmeMs + last.durationSeconds * 1000 : 0;
  }

  /** How much is kept. */
  get keptMs(): number {
    return playingMs(this.segments);
  }

  /** Lists again what is kept, as far as it belongs in a playlist: what was packaged since the programme came here. */
  list(leg: number, rewindMs: number, isOver: boolean, partTargetSeconds?: number): void {
    const window = windowFromSegments(sinceLeg(this.segments, leg), rewindMs, partTargetSeconds);
    this.#window = isOver ? endWindow(window) : window;
  }

  /** Its playlist begins with a segment, and counts discontinuities as the original does. */
  startOver(original: LiveWindow, fromSequence: number): void {
    this.#window = windowSince(original, fromSequence);
  }

  advance(output: PackagerOutput, rewindMs: number): void {
    this.#window = advanceWindow(this.#window, output, rewindMs);
  }

  /** A segment could not be kept. */
  lose(sequence: number): void {
    const index = this.segments.findIndex((segment) => segment.sequence === sequence);
    if (index >= 0) this.segments.splice(index, 1);
  }

  /** Nothing follows any more. */
  close(): void {
    this.#window = endWindow(this.#window);
  }
}
