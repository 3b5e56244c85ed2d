import { FlvSource } from '@heliphon/core/ingest/flv-source';
import { FlvStream } from '@heliphon/core/ingest/flv-stream';
import { flvHeader, flvTag } from '@heliphon/core/ingest/flv-tags';
import { configBodies, frameBody, stampMs } from '@heliphon/core/ingest/flv-writer';
import type { PlannedRendition } from '@heliphon/core/ladder/renditions';
import { compositionOffsetMs, decodeMs, type Frame, isPicture } from '@heliphon/core/media/frame';
import type { VideoTrack } from '@heliphon/core/media/track';
import { PictureTimes } from '@heliphon/core/packaging/following-packager';
import type { Clock } from '../clock.js';
import { ReadPace } from '../ingest/read-pace.js';
import type { Child, ChildProcesses } from '../processes/child-processes.js';
import { ladderArgs } from './ladder-args.js';

/** A child that has ended is followed by another at once; one that cannot live is given up. */
const MOST_DEATHS = 4;
/** Deaths further apart than this have nothing to do with one another. */
const SOUND_AFTER_MS = 20_000;
/** What waits to be encoded, or encoded again, at most. */
const MOST_HELD_MS = 20_000;
/** Short beside a part, which waits for its last picture. */
const WRITES_TOGETHER_MS = 60;
/** An encoder that is told of its end says the rest within this. */
const FINISH_MS = 3000;

export interface LadderPorts {
  readonly clock: Clock;
  readonly children: ChildProcesses;
}

interface LadderEvents {
  /** An encoded picture of a step, in the order they are shown, with the times of the one it was made of. */
  picture(name: string, track: VideoTrack, picture: Frame): void;
  /** It cannot go on. */
  gaveUp(): void;
}

/** One step of the ladder, as it is being made. */
interface Step {
  readonly plan: PlannedRendition;
  readonly times: PictureTimes;
  track: VideoTrack | null;
  /** When the last picture that came back is shown; -1 before the first. */
  progressMs: number;
}

/**
 * Makes all smaller pictures of a stretch of one run: one `ffmpeg`, which decodes once and encodes each. It holds what it
 * was given since the keyframe before the picture that came back last, so that an encoder that dies is followed by
 * another without the loss of a picture.
 */
export class LadderEncoder {
  readonly #pace = new ReadPace();
  #steps: Step[];
  #held: Frame[] = [];
  #child: Child | null = null;
  #isFinishing = false;
  #isOver = false;
  #deaths = 0;
  #startedAtMs = 0;
  #sentMs = 0;
  #processorSeconds = 0;
  readonly #finished: Promise<void>;
  #resolveFinished: () => void = () => undefined;

  /**
   * @param sinceMs - the run's time from which stamps are counted.
   * @param after - it begins once this is done: the encoder before it says its last words first.
   */
  constructor(
    plans: readonly PlannedRendition[],
    private readonly source: VideoTrack,
    private readonly sinceMs: number,
    private readonly ports: LadderPorts,
    private readonly events: LadderEvents,
    after: Promise<void>,
  ) {
    this.#steps = plans.map((plan) => ({ plan, times: new PictureTimes(), track: null, progressMs: -1 }));
    this.#finished = new Promise((resolve) => (this.#resolveFinished = resolve));
    void after.then(() => this.#start());
  }

  /** Settles once no more pictures come. */
  get finished(): Promise<void> {
    return this.#finished;
  }

  /** How much of what it was given has not come back, in ms. */
  get lagMs(): number {
    return this.#sentMs - this.#progressMs;
  }

  /** For how long the child that runs now has run. */
  get upMs(): number {
    return this.#child ? this.ports.clock.monotonicMs() - this.#startedAtMs : 0;
  }

  /** Processor time used so far, in seconds. */
  get processorSeconds(): number {
    return this.#processorSeconds + (this.#child?.processorSeconds ?? 0);
  }

  get plans(): readonly PlannedRendition[] {
    return this.#steps.map(({ plan }) => plan);
  }

  /** @param frame - a picture; the first is a keyframe. */
  frame(frame: Frame): void {
    if (this.#isOver || this.#isFinishing) return;
    const shownMs = this.#shownMs(frame);
    this.#sentMs = Math.max(this.#sentMs, shownMs);
    for (const { times } of this.#steps) times.send(shownMs, frame);
    this.#held.push(frame);
    this.#write(frame);
    if (this.#sentMs - this.#shownMs(this.#held[0]!) > MOST_HELD_MS) this.#giveUp();
  }

  /** Leaves a step out from now on; the others lose nothing by it. */
  drop(name: string): void {
    this.#steps = this.#steps.filter(({ plan }) => plan.name !== name);
    if (this.#steps.length === 0) return this.#end();
    if (!this.#child || this.#isFinishing) return;
    this.#stopChild();
    this.#start();
  }

  /** No more pictures follow; those that were given come back. */
  finish(): void {
    if (this.#isFinishing || this.#isOver) return;
    this.#isFinishing = true;
    if (!this.#child) return;
    this.#finishChild(this.#child);
  }

  /** Ends it at once. */
  stop(): void {
    this.#end();
  }

  get #progressMs(): number {
    return this.#steps.reduce((least, { progressMs }) => Math.min(least, progressMs), this.#sentMs);
  }

  /** As ffmpeg is told, and says again: what stands in an FLV tag. */
  #shownMs(frame: Frame): number {
    return stampMs(frame, this.sinceMs) + Math.round(compositionOffsetMs(frame));
  }

  #start(): void {
    if (this.#isOver) return;
    const steps = this.#steps;
    const child = this.ports.children.start({
      purpose: 'ladder',
      command: 'ffmpeg',
      args: ladderArgs(steps.map(({ plan, progressMs }) => ({ plan, afterMs: progressMs }))),
      sidePipes: steps.length,
    });
    this.#child = child;
    this.#startedAtMs = this.ports.clock.monotonicMs();
    steps.forEach((step, index) => this.#read(child, index, step));
    child.stdin.write(flvHeader({ video: true, audio: false }));
    for (const { kind, body } of configBodies({ video: this.source, audio: null }))
      child.stdin.write(flvTag(kind, 0, body));
    for (const frame of this.#held) this.#write(frame);
    if (this.#isFinishing) this.#finishChild(child);
    void child.ended.then(() => {
      if (child !== this.#child) return;
      this.#child = null;
      if (this.#isFinishing) this.#end();
      else this.#goOn();
    });
  }

  #finishChild(child: Child): void {
    child.stdin.end();
    const timer = setTimeout(() => child.kill(), FINISH_MS);
    void child.ended.then(() => clearTimeout(timer));
  }

  /** It died: another goes on where it was, and nothing is lost. */
  #goOn(): void {
    const livedMs = this.ports.clock.monotonicMs() - this.#startedAtMs;
    this.#deaths = livedMs > SOUND_AFTER_MS ? 1 : this.#deaths + 1;
    if (this.#deaths >= MOST_DEATHS) return this.#giveUp();
    this.#start();
  }

  #giveUp(): void {
    this.#end();
    this.events.gaveUp();
  }

  #end(): void {
    if (this.#isOver) return;
    this.#isOver = true;
    this.#stopChild();
    this.#held = [];
    this.#resolveFinished();
  }

  #stopChild(): void {
    this.#processorSeconds = this.processorSeconds;
    const child = this.#child;
    this.#child = null;
    child?.kill();
  }

  #write(frame: Frame): void {
    if (!this.#child?.stdin.writable) return;
    this.#gather(this.#child);
    const { kind, body } = frameBody(frame);
    this.#child.stdin.write(flvTag(kind, stampMs(frame, this.sinceMs), body));
  }

  /** What comes within a moment goes out together: a call of the system for each picture costs more than the picture. */
  #gather({ stdin }: Child): void {
    if (stdin.writableCorked > 0) return;
    stdin.cork();
    setTimeout(() => stdin.uncork(), WRITES_TOGETHER_MS);
  }

  #read(child: Child, index: number, step: Step): void {
    const stream = new FlvStream();
    const source = new FlvSource();
    this.#pace.follow(
      child.sidePipe(index),
      () => true,
      (bytes) => {
        if (child !== this.#child) return;
        for (const { kind, timestampMs, body } of stream.push(bytes)) {
          const signal = kind === 'script' ? null : source.read({ kind, timestampMs, body });
          if (signal?.type === 'video-configured') step.track = signal.track;
          if (signal?.type === 'frame' && isPicture(signal.frame)) this.#take(step, signal.frame);
        }
        this.#forget();
      },
    );
  }

  #take(step: Step, encoded: Frame): void {
    const shownMs = Math.round(encoded.presentationTime);
    const picture = step.times.returned(shownMs, encoded);
    if (!picture) return;
    step.progressMs = shownMs;
    this.events.picture(step.plan.name, step.track!, picture);
  }

  /** What every step has, and no step needs to go on from, is let go. */
  #forget(): void {
    const progressMs = this.#progressMs;
    const from = this.#held.findLastIndex((frame) => frame.isKeyframe && this.#shownMs(frame) <= progressMs);
    if (from > 0) this.#held.splice(0, from);
  }
}

/** Where the stamps of a run begin. */
export const stampsSince = (first: Frame): number => Math.floor(decodeMs(first));
