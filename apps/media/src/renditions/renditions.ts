import {
  isSameChoice,
  type Ladder,
  ladderCores,
  type LadderSource,
  planLadder,
  type RenditionChoice,
} from '@heliphon/core/ladder/renditions';
import type { SizesFigures } from '@heliphon/core/control/observations';
import { type Frame, isPicture } from '@heliphon/core/media/frame';
import type { TimelineSignal } from '@heliphon/core/media/timeline';
import type { WholeTracks } from '@heliphon/core/media/track';
import type { PackagerOutput } from '@heliphon/core/packaging/packager';
import type { IndexedSegment, RecordingFolder } from '../recording/recording-folder.js';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import type { LadderBudget } from './ladder-budget.js';
import { LadderEncoder, type LadderPorts, stampsSince } from './ladder-encoder.js';
import { Rendition } from './rendition.js';
import { RenditionMaking } from './rendition-making.js';
import { Shedding } from './shedding.js';
import { SourceMeasure } from './source-measure.js';

type Init = Extract<PackagerOutput, { type: 'init' }>;

export interface RenditionsPorts extends LadderPorts {
  readonly budget: LadderBudget;
  readonly utcMsOf: (programmeMs: number) => number;
  readonly onChange: () => void;
  /** Other sizes can be had than before. */
  readonly onOffer: () => void;
  /** A run of a size begins, and what comes of it. */
  readonly onRun: (name: string, tracks: WholeTracks) => void;
  readonly onFrame: (name: string, frame: Frame) => void;
}

/** Pictures that tell how many come in a second. */
const PICTURES_FOR_RATE = 8;
const COMES_WITHIN_MS = 8000;
const LOOKS_FOR_ROOM_EVERY_MS = 30_000;

/** From where on steps may begin: a segment that begins with a keyframe. */
interface Beginning {
  readonly frames: Frame[];
  readonly cuts: PackagerOutput[];
}

interface Run {
  readonly tracks: WholeTracks;
  readonly init: Init;
  readonly isSlate: boolean;
}

/**
 * The smaller pictures of a programme. Which there are is decided where a segment begins with a keyframe; each is cut
 * where the original was cut. Whatever becomes of them, the original goes on.
 */
export class Renditions {
  readonly #kept = new Map<string, Rendition>();
  readonly #makings = new Map<string, RenditionMaking>();
  #toldOffer = '';
  readonly #shedding: Shedding;
  isKept = true;
  #choice: RenditionChoice = 'off';
  #ladder: Ladder = { renditions: [], leftOut: [] };
  #run: Run | null = null;
  #beginning: Beginning | null = null;
  #encoder: LadderEncoder | null = null;
  /** Another ladder may be due. */
  #isStale = true;
  #plannedAtMs = -Infinity;
  #source: LadderSource | null = null;
  readonly #measure = new SourceMeasure();
  #disk: DiskState = 'plenty';
  #keepsGaps = false;
  /** Settles once the encoder that was told of its end has said its last words. */
  #before: Promise<void> = Promise.resolve();

  constructor(
    private readonly original: Rendition,
    private readonly ports: RenditionsPorts,
  ) {
    this.#shedding = new Shedding(ports.clock);
  }

  /** Opens the sizes that have a recording. */
  async open(): Promise<void> {
    const { folder } = this.original;
    for (const name of await folder.renditions())
      this.#keep(name, folder.rendition(name), await folder.rendition(name).readIndex());
  }

  get figures(): SizesFigures {
    const { renditions, leftOut } = this.#ladder;
    const making = this.#encoder ? renditions.filter(({ name }) => this.#makings.has(name)) : [];
    return { choice: this.#choice, making, leftOut, shed: this.#shedding.names };
  }

  /** One that players may be offered: it is being made, and something of it can be had. */
  live(name: string): Rendition | null {
    const making = this.#makings.get(name);
    return making?.isThere ? making.rendition : null;
  }

  /** All that can be played live now, the largest first. */
  get offered(): readonly { readonly name: string; readonly rendition: Rendition }[] {
    return this.#ladder.renditions.flatMap(({ name }) => {
      const rendition = this.live(name);
      return rendition ? [{ name, rendition }] : [];
    });
  }

  /**
   * What somebody gets who asks for a size: that, or the next smaller one that is made, or the original (`null`).
   * `undefined` while it may still come.
   */
  feedFor(name: string | null): string | null | undefined {
    if (name === null) return null;
    const smaller = this.offered.find((one) => parseInt(one.name) <= parseInt(name));
    if (smaller?.name !== name && this.isComing) return undefined;
    return smaller?.name ?? null;
  }

  /** Some are on their way: it is worth waiting for them a moment. */
  get isComing(): boolean {
    if (this.#choice === 'off' || !this.#run) return false;
    if (!this.#encoder) return this.#beginning !== null;
    return this.#encoder.upMs < COMES_WITHIN_MS && this.offered.length < this.#ladder.renditions.length;
  }

  /** Every size that has a recording, by name. */
  get kept(): ReadonlyMap<string, Rendition> {
    return this.#kept;
  }

  /** @param isKept - they stay for the replay */
  choose(choice: RenditionChoice, isKept = true): void {
    this.isKept = isKept;
    if (isSameChoice(choice, this.#choice)) return;
    this.#choice = choice;
    this.#isStale = true;
    if (choice === 'off') this.#letGo();
  }

  /** Where room grows short they are the first that are not recorded any more. */
  setDisk(disk: DiskState): void {
    this.#disk = disk === 'plenty' ? 'plenty' : 'full';
    for (const rendition of this.#kept.values()) rendition.setDisk(this.#disk);
  }

  setGaps(isKept: boolean): void {
    this.#keepsGaps = isKept;
    for (const rendition of this.#kept.values()) rendition.setGaps(isKept);
  }

  /** What is set of the original goes for all of them. */
  matchOriginal(): void {
    for (const rendition of this.#kept.values()) this.#alike(rendition);
  }

  /** @param outputs - what the original's packager made of the signal. */
  take(signal: TimelineSignal, outputs: readonly PackagerOutput[]): void {
    if (signal.type === 'frame' && isPicture(signal.frame)) this.#picture(signal.frame, outputs);
    this.#note(signal, outputs);
    for (const making of this.#makings.values()) making.follow(outputs);
    if (outputs.some(({ type }) => type === 'segment')) this.#tellOffer();
    if (signal.type === 'run-ended') this.#endRun();
    else if (this.#beginning && this.#beginning.frames.length >= PICTURES_FOR_RATE) this.#begin();
  }

  /** Sheds what the machine cannot carry, and brings it back. Called several times a second. */
  tick(): void {
    const encoder = this.#encoder;
    this.#tellOffer();
    if (this.#shedding.isOver() || this.#mayHaveRoom) this.#isStale = true;
    if (!encoder) return;
    this.ports.budget.measure(this, () => encoder.processorSeconds);
    if (!this.#shedding.isBehind(encoder)) return;
    this.#shed(encoder.plans[0]!.name);
    if (encoder.plans.length === 1) return this.#letGo();
    encoder.drop(encoder.plans[0]!.name);
  }

  get #mayHaveRoom(): boolean {
    const isOld = this.ports.clock.monotonicMs() - this.#plannedAtMs > LOOKS_FOR_ROOM_EVERY_MS;
    if (isOld) this.#plannedAtMs = this.ports.clock.monotonicMs();
    return isOld && this.#ladder.leftOut.some(({ why }) => why === 'no-room');
  }

  /** Nothing follows: what was given to the encoder still comes. */
  async finish(): Promise<void> {
    await this.stop();
    for (const rendition of this.#kept.values()) rendition.close();
    if (!this.isKept) await this.remove();
  }

  /** Takes what is kept of them off the disk; the original stays. @returns whether there was anything */
  async remove(): Promise<boolean> {
    const kept = [...this.#kept.values()];
    this.#kept.clear();
    this.#makings.clear();
    for (const { folder } of kept) await folder.remove();
    this.ports.onChange();
    return kept.length > 0;
  }

  /** Nothing follows for now. Like `finish` it waits for the encoder's last words, which belong to the last segment. */
  async stop(): Promise<void> {
    this.#endRun();
    await this.#before;
    for (const { folder } of this.#kept.values()) await folder.close();
  }

  #note(signal: TimelineSignal, outputs: readonly PackagerOutput[]): void {
    if (signal.type === 'run-began') {
      const init = outputs.find((output): output is Init => output.type === 'init')!;
      this.#run = { tracks: signal.tracks, init, isSlate: signal.isSlate };
      this.#measure.begin();
      this.#isStale = true;
    }
    if (signal.type === 'frame' && isPicture(signal.frame) && this.#run?.isSlate === false)
      this.#measure.add(signal.frame);
  }

  #picture(frame: Frame, outputs: readonly PackagerOutput[]): void {
    const begun = outputs.findIndex(({ type }) => type === 'segment-begun');
    const mayBegin = frame.isKeyframe && begun >= 0 && this.#choice !== 'off';
    if (mayBegin && this.#shouldBegin()) {
      // What is made until now ends here.
      this.#handOver();
      this.#beginning = { frames: [frame], cuts: [this.#run!.init, ...outputs.slice(begun)] };
      return;
    }
    this.#beginning?.cuts.push(...outputs);
    if (this.#beginning) this.#beginning.frames.push(frame);
    else this.#encoder?.frame(frame);
  }

  #shouldBegin(): boolean {
    if (!this.#isStale || this.#beginning) return false;
    if (!this.#encoder || !this.#source) return true;
    this.#isStale = false;
    return namesOf(this.#plan(this.#source)) !== namesOf(this.#ladder);
  }

  #plan(source: LadderSource): Ladder {
    const planned = planLadder(this.#choice, source, this.ports.budget.roomFor(this));
    return { ...planned, renditions: planned.renditions.filter(({ name }) => !this.#shedding.has(name)) };
  }

  /** Enough has come to know what it is: the ladder is planned, and its encoder begins where the segment did. */
  #begin(): void {
    const { frames, cuts } = this.#beginning!;
    const { tracks, init } = this.#run!;
    this.#beginning = null;
    this.#isStale = false;
    const source = this.#measure.sourceOf(tracks.video, frames);
    this.#source = source;
    this.#plannedAtMs = this.ports.clock.monotonicMs();
    this.#ladder = this.#plan(source);
    const { renditions } = this.#ladder;
    for (const name of this.#makings.keys())
      if (!renditions.some((plan) => plan.name === name)) this.#makings.delete(name);
    if (renditions.length === 0) return this.ports.onChange();
    for (const { name } of renditions) if (!this.#makings.has(name)) this.#make(name).follow(cuts);
    const encoder = new LadderEncoder(
      renditions,
      tracks.video,
      stampsSince(frames[0]!),
      this.ports,
      {
        picture: (name, track, picture) => this.#makings.get(name)?.encoded(init.number, track, picture),
        gaveUp: () => this.#gaveUp(encoder),
      },
      this.#before,
    );
    this.#encoder = encoder;
    this.ports.budget.take(this, ladderCores(renditions, source));
    for (const frame of frames) encoder.frame(frame);
  }

  #make(name: string): RenditionMaking {
    const folder = this.original.folder.rendition(name);
    folder.make();
    const rendition = this.#kept.get(name) ?? this.#keep(name, folder, []);
    const making = new RenditionMaking(rendition, this.original, {
      onRun: (tracks) => this.ports.onRun(name, tracks),
      onFrame: (frame) => this.ports.onFrame(name, frame),
    });
    this.#makings.set(name, making);
    return making;
  }

  #keep(name: string, folder: RecordingFolder, segments: IndexedSegment[]): Rendition {
    const rendition = this.#alike(new Rendition(folder, segments, this.ports));
    this.#kept.set(name, rendition);
    return rendition;
  }

  #tellOffer(): void {
    const offer = [...this.offered.map(({ name }) => name), this.isComing].join();
    if (offer === this.#toldOffer) return;
    this.#toldOffer = offer;
    this.ports.onOffer();
  }

  #endRun(): void {
    const number = this.#run?.init.number;
    this.#run = null;
    this.#beginning = null;
    this.#handOver();
    if (number === undefined) return;
    const makings = [...this.#makings.values()];
    this.#before = this.#before.then(() => makings.forEach((making) => making.finish(number)));
  }

  /** The encoder says the rest of what it was given, and the next waits for that. */
  #handOver(): void {
    const encoder = this.#encoder;
    if (!encoder) return;
    this.#encoder = null;
    encoder.finish();
    this.#before = encoder.finished;
    this.ports.budget.release(this);
  }

  #gaveUp(encoder: LadderEncoder): void {
    if (encoder !== this.#encoder) return;
    const [largest] = encoder.plans;
    if (largest) this.#shedding.add(largest.name);
    this.#letGo();
  }

  #shed(name: string): void {
    this.#shedding.add(name);
    this.#makings.delete(name);
    const renditions = this.#ladder.renditions.filter((plan) => plan.name !== name);
    this.#ladder = { ...this.#ladder, renditions };
    this.ports.onChange();
  }

  /** None is made any more, until the next may begin. */
  #letGo(): void {
    this.#encoder?.stop();
    this.#encoder = null;
    this.#beginning = null;
    this.#makings.clear();
    this.#isStale = true;
    this.ports.budget.release(this);
    this.ports.onChange();
  }

  #alike(rendition: Rendition): Rendition {
    rendition.airAtMs = this.original.airAtMs;
    rendition.endAtMs = this.original.endAtMs;
    rendition.setRewindWindow(this.original.rewindWindowMs);
    rendition.setDisk(this.#disk);
    rendition.setGaps(this.#keepsGaps);
    return rendition;
  }
}

const namesOf = ({ renditions }: Ladder): string =>
  renditions.map(({ name, videoBitrateBps }) => `${name} ${videoBitrateBps}`).join();
