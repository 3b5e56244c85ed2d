import type { GrantClass } from '@heliphon/core/access/grant';
import type { RecordingStop } from '@heliphon/core/control/observations';
import type { LiveWindow } from '@heliphon/core/packaging/live-window';
import type { PackagerOutput } from '@heliphon/core/packaging/packager';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import { Recorder } from '../recording/recorder.js';
import type { IndexedSegment, RecordingFolder } from '../recording/recording-folder.js';
import { PartMemory } from './part-memory.js';
import { type SegmentAccess, VisiblePart } from './visible-part.js';

export interface RenditionPorts {
  readonly utcMsOf: (programmeMs: number) => number;
  /** Something can be fetched that could not be before, or the other way round. */
  readonly onChange: () => void;
}

/** A programme in one size, cut into parts and segments: in memory, on disk, and as far as each class of viewers may see it. */
export class Rendition {
  readonly #memory = new PartMemory();
  readonly #visible: VisiblePart;
  readonly #recorder: Recorder;
  #rewindWindowMs = 0;

  /** @param segments - those that are kept, in order. */
  constructor(
    readonly folder: RecordingFolder,
    segments: IndexedSegment[],
    private readonly ports: RenditionPorts,
  ) {
    this.#visible = new VisiblePart(segments);
    this.#recorder = new Recorder(folder, ports.utcMsOf, (sequence) => this.#visible.lose(sequence));
  }

  /** Keeps what its packager made. */
  take(outputs: readonly PackagerOutput[]): void {
    for (const output of outputs) this.#keep(output);
    if (outputs.length > 0) this.ports.onChange();
  }

  /**
   * It was not made for a while: its live playlist starts over.
   * @param original - by whose numbers it goes on.
   */
  startOver(original: LiveWindow, fromSequence: number): void {
    this.#visible.startOver(original, fromSequence);
  }

  /** Nothing follows any more. */
  close(): void {
    this.#visible.close();
  }

  /** Lists again what is kept, as far as it belongs in a playlist. */
  list(leg: number, isOver: boolean, partTargetSeconds: number | undefined): void {
    this.#visible.list(leg, this.#rewindMs, isOver, partTargetSeconds);
  }

  setRewindWindow(rewindWindowMs: number): void {
    this.#rewindWindowMs = rewindWindowMs;
  }

  setDisk(disk: DiskState): void {
    this.#recorder.setDisk(disk);
  }

  /** Why nothing is being recorded; `null` while all is well. */
  get recordingStopped(): RecordingStop | null {
    return this.#recorder.stopped;
  }

  get rewindWindowMs(): number {
    return this.#rewindWindowMs;
  }

  /** Where air began and ended on the programme's own time; `null` before. The public sees what lies between. */
  get airAtMs(): number | null {
    return this.#visible.airAtMs;
  }

  set airAtMs(ms: number | null) {
    this.#visible.airAtMs = ms;
  }

  get endAtMs(): number | null {
    return this.#visible.endAtMs;
  }

  set endAtMs(ms: number | null) {
    this.#visible.endAtMs = ms;
  }

  get keptMs(): number {
    return this.#visible.keptMs;
  }

  get keptUntilMs(): number {
    return this.#visible.keptUntilMs;
  }

  /** What a class of viewers may see now; `null` before its time. */
  windowFor(grantClass: GrantClass): LiveWindow | null {
    return this.#visible.windowFor(grantClass);
  }

  /** Whether the replay shows the slate where it stood. */
  setGaps(isKept: boolean): void {
    this.#visible.keepsGaps = isKept;
  }

  /** How long a slate stood between air and end. */
  get gapsMs(): number {
    return this.#visible.gapsMs;
  }

  /** All that is kept so far, in order: doors, slates and what nobody saw as well. */
  get keptSegments(): readonly IndexedSegment[] {
    return this.#visible.segments;
  }

  /** `null` before there is one; the same list until it is another. */
  get replaySegments(): readonly IndexedSegment[] | null {
    return this.#visible.replay;
  }

  /** Whether a class may fetch the media of a segment. */
  accessTo(grantClass: GrantClass, sequence: number): SegmentAccess {
    return this.#visible.accessTo(grantClass, sequence);
  }

  /** A part or segment from memory, for a class; `'hidden'` where it is not for them, `undefined` where it is not there. */
  inMemory(kind: 'part' | 'seg', grantClass: GrantClass, number: number): Uint8Array | 'hidden' | undefined {
    const part = kind === 'part' ? this.#memory.part(number) : undefined;
    const sequence = kind === 'part' ? part?.segmentSequence : number;
    if (sequence === undefined) return undefined;
    const access = this.accessTo(grantClass, sequence);
    if (access !== 'open') return access === 'hidden' ? 'hidden' : undefined;
    return part ? part.bytes : this.#memory.segment(sequence);
  }

  /** An init segment, where it lies in memory: on disk it may only come to be. */
  initInMemory(number: number): Uint8Array | undefined {
    return this.#memory.init(number);
  }

  /** Bytes of a whole segment that lies in memory, to be measured. */
  segmentInMemory(sequence: number): Uint8Array | undefined {
    return this.#memory.segment(sequence);
  }

  #keep(output: PackagerOutput): void {
    this.#visible.advance(output, this.#rewindMs);
    switch (output.type) {
      case 'init':
        this.#memory.keepInit(output.number, output.bytes);
        return this.folder.writeInit(output.number, output.bytes);
      case 'segment-begun':
        return this.#recorder.begin(output);
      case 'part':
        this.#memory.keep(output.part);
        return this.#recorder.part(output.part);
      case 'segment': {
        const sizeBytes = this.#memory.close(output.segment.sequence);
        const indexed = this.#recorder.close(output.segment, sizeBytes);
        if (indexed) this.#visible.segments.push(indexed);
        return;
      }
      case 'part-rule':
      case 'hint-withdrawn':
    }
  }

  /** What is not recorded cannot be rewound to. */
  get #rewindMs(): number {
    return this.#recorder.stopped === 'disk-full' ? 0 : this.#rewindWindowMs;
  }
}
