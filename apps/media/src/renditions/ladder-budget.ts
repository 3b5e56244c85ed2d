import { availableParallelism } from 'node:os';
import type { Clock } from '../clock.js';

/** What encoding may take of the machine; the rest is for everything that must not wait for it. */
const SHARE = 0.75;
/** Processor time is measured over this. */
const MEASURED_OVER_MS = 10_000;
/** The newest measure counts for so much of what is known. */
const NEWEST_COUNTS = 0.5;
/** A machine is not believed to be this much faster or slower than the one that the costs were measured on. */
const PACE = { least: 0.25, most: 8 };

/** What one programme's smaller pictures take of the processor. */
interface Taken {
  /** In cores, on the machine that costs were measured on. */
  readonly expectedCores: number;
  measuredCores: number | null;
  last: { readonly atMs: number; readonly processorSeconds: number };
}

/** Shares out what smaller pictures may take of a node's processor, by what they are seen to take. */
export class LadderBudget {
  readonly #taken = new Map<object, Taken>();
  /** What things cost here, of what they cost where that was measured first. */
  #pace = 1;

  constructor(
    private readonly clock: Clock,
    private readonly cores = availableParallelism(),
  ) {}

  /** How many cores' worth of expected work somebody may take on. @param who - `null` for somebody new */
  roomFor(who: object | null): number {
    const others = [...this.#taken].filter(([owner]) => owner !== who);
    const takenCores = others.reduce(
      (sum, [, { measuredCores, expectedCores }]) => sum + (measuredCores ?? expectedCores * this.#pace),
      0,
    );
    return Math.max(0, this.cores * SHARE - takenCores) / this.#pace;
  }

  /** The same, were nobody else there. */
  get mostCores(): number {
    return (this.cores * SHARE) / this.#pace;
  }

  take(who: object, expectedCores: number): void {
    const last = { atMs: this.clock.monotonicMs(), processorSeconds: 0 };
    this.#taken.set(who, { expectedCores, measuredCores: null, last });
  }

  release(who: object): void {
    this.#taken.delete(who);
  }

  /** @param secondsUsed - of processor time since `take`; asked only now and then. */
  measure(who: object, secondsUsed: () => number): void {
    const taken = this.#taken.get(who);
    const atMs = this.clock.monotonicMs();
    if (!taken || atMs - taken.last.atMs < MEASURED_OVER_MS) return;
    const processorSeconds = secondsUsed();
    const cores = ((processorSeconds - taken.last.processorSeconds) * 1000) / (atMs - taken.last.atMs);
    // The start-up is in the first measure.
    const isFirst = taken.last.processorSeconds === 0;
    taken.last = { atMs, processorSeconds };
    if (isFirst || cores <= 0) return;
    taken.measuredCores = cores;
    const pace = this.#pace + (cores / taken.expectedCores - this.#pace) * NEWEST_COUNTS;
    this.#pace = Math.min(PACE.most, Math.max(PACE.least, pace));
  }
}
