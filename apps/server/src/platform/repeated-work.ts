import { Logger, type OnApplicationShutdown } from '@nestjs/common';

/**
 * What a part of the server does again and again, from its start to its end: one run at a time; one that fails is told of, and
 * ends none after it.
 */
export abstract class RepeatedWork implements OnApplicationShutdown {
  protected abstract readonly everyMs: number;
  /** What to say when a run has failed: `Letters wait`. */
  protected abstract readonly fault: string;
  readonly #log = new Logger(this.constructor.name);
  #timer: NodeJS.Timeout | null = null;
  #running: Promise<void> | null = null;

  abstract work(): Promise<void>;

  start(): void {
    this.#timer = setInterval(() => {
      this.#running ??= this.work()
        .catch((error: unknown) => this.#log.warn(`${this.fault}: ${String(error)}`))
        .finally(() => (this.#running = null));
    }, this.everyMs);
  }

  /** The work on each of many; one that fails is told of, and holds up none of the others. */
  protected async eachOf<T>(items: Iterable<T>, work: (item: T) => Promise<unknown>): Promise<void> {
    for (const item of items)
      await work(item).catch((error: unknown) => this.#log.warn(`${this.fault}: ${String(error)}`));
  }

  /** @returns once the run that is under way has ended. */
  async onApplicationShutdown(): Promise<void> {
    if (this.#timer) clearInterval(this.#timer);
    await this.#running;
  }
}
