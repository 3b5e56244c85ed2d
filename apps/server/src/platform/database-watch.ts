import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { DataSource } from 'typeorm';

const EVERY_MS = 1000;
const PATIENCE_MS = 2500;

/** Asks the database every second whether it is there: one that stands still refuses nothing, it just never answers. */
@Injectable()
export class DatabaseWatch implements OnApplicationShutdown {
  #askedAtMs: number | null = null;
  #isRefused = false;
  #timer: NodeJS.Timeout | null = null;

  constructor(private readonly dataSource: DataSource) {}

  start(): void {
    this.#timer = setInterval(() => {
      if (this.#askedAtMs !== null) return;
      this.#askedAtMs = performance.now();
      this.dataSource.query('SELECT 1').then(
        () => this.#answered(false),
        () => this.#answered(true),
      );
    }, EVERY_MS);
  }

  onApplicationShutdown(): void {
    if (this.#timer) clearInterval(this.#timer);
  }

  /** True while it does not answer: anyone who asks is told so at once instead of waiting with it. */
  get isAway(): boolean {
    const waitedMs = this.#askedAtMs === null ? 0 : performance.now() - this.#askedAtMs;
    return this.#isRefused || waitedMs > PATIENCE_MS;
  }

  #answered(isRefused: boolean): void {
    this.#askedAtMs = null;
    this.#isRefused = isRefused;
  }
}
