import type { Logger } from 'pino';
import { pauseAfter } from '@heliphon/core/control/retry';

/** A part of the node that makes one kind of want true, at its own pace. */
export interface WantKeeper<Want, Facts> {
  /** Takes what is wanted from now on. */
  apply(want: Want): void;
  /** What is true of it now. */
  facts(): Facts;
  /** Lets go of everything. */
  stop(): void | Promise<void>;
}

/** Work that is done over and over until nothing of it is left: one run at a time, after a failure with growing pauses. */
export class PersistentWork {
  #running: Promise<void> | null = null;
  #timer: NodeJS.Timeout | null = null;
  #failures = 0;
  readonly #closing = new AbortController();

  /** @param work - resolves with whether all of it is done; what is left is tried again. */
  constructor(
    private readonly work: (signal: AbortSignal) => Promise<boolean>,
    private readonly log: Logger,
  ) {}

  /** Begins, unless it is at it. @param isUrgent - does not wait for its next try. */
  begin(isUrgent = false): void {
    if (this.#closing.signal.aborted || (this.#timer && !isUrgent)) return;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    this.#running ??= this.#run();
  }

  async stop(): Promise<void> {
    this.#closing.abort();
    if (this.#timer) clearTimeout(this.#timer);
    await this.#running;
  }

  async #run(): Promise<void> {
    const { signal } = this.#closing;
    const isDone = await this.work(signal).catch((error: unknown) => {
      if (!signal.aborted) this.log.warn({ error: String(error) }, 'This did not work; it is tried again');
      return false;
    });
    this.#running = null;
    if (signal.aborted) return;
    this.#failures = isDone ? 0 : this.#failures + 1;
    if (isDone) return;
    this.#timer = setTimeout(() => {
      this.#timer = null;
      this.begin();
    }, pauseAfter(this.#failures));
  }
}
