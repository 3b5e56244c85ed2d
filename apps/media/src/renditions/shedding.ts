import type { Clock } from '../clock.js';

/** So far behind the original a smaller picture is of no use, and the machine does not keep up. */
const BEHIND_MS = 3000;
/** An encoder that has just begun has to catch up first. */
const BEGINS_WITHIN_MS = 6000;
/** What was given up is tried again after this, and each time after twice as long. */
const AGAIN_AFTER_MS = 60_000;
const AGAIN_AT_MOST_MS = 15 * 60_000;

interface Shed {
  readonly untilMs: number;
  readonly isOver: boolean;
  readonly times: number;
}

/** Which steps of a ladder the machine could not carry, and until when they stay away. */
export class Shedding {
  readonly #shed = new Map<string, Shed>();

  constructor(private readonly clock: Clock) {}

  /** Those that are away now. */
  get names(): readonly string[] {
    return [...this.#shed].filter(([, { isOver }]) => !isOver).map(([name]) => name);
  }

  has(name: string): boolean {
    return this.#shed.get(name)?.isOver === false;
  }

  add(name: string): void {
    const times = (this.#shed.get(name)?.times ?? 0) + 1;
    const pauseMs = Math.min(AGAIN_AT_MOST_MS, AGAIN_AFTER_MS * 2 ** (times - 1));
    this.#shed.set(name, { untilMs: this.clock.monotonicMs() + pauseMs, isOver: false, times });
  }

  /** @returns whether one may be tried again since this was asked last. */
  isOver(): boolean {
    let isAny = false;
    for (const [name, shed] of this.#shed) {
      if (shed.isOver || this.clock.monotonicMs() < shed.untilMs) continue;
      this.#shed.set(name, { ...shed, isOver: true });
      isAny = true;
    }
    return isAny;
  }

  isBehind({ lagMs, upMs }: { readonly lagMs: number; readonly upMs: number }): boolean {
    return upMs > BEGINS_WITHIN_MS && lagMs > BEHIND_MS;
  }
}
