import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { LessThan } from 'typeorm';
import { addDays } from '@heliphon/core/schedule/civil-time';
import { AHEAD_DAYS } from '@heliphon/core/schedule/series-plan';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { dayOf } from './series-dates.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { SeriesService } from './series.service.js';

const TICK_MS = 5000;
const AT_ONCE = 50;

/** Lets the dates of series come into being ahead of time, day by day. */
@Injectable()
export class SeriesPlanner implements OnApplicationShutdown {
  readonly #log = new Logger('SeriesPlanner');
  #timer: NodeJS.Timeout | null = null;
  #ticking: Promise<void> = Promise.resolve();

  constructor(
    private readonly database: Database,
    private readonly series: SeriesService,
    private readonly clock: Clock,
  ) {}

  start(): void {
    this.#timer = setTimeout(() => {
      this.#ticking = this.#tick();
    }, TICK_MS);
  }

  async onApplicationShutdown(): Promise<void> {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    await this.#ticking;
  }

  async #tick(): Promise<void> {
    try {
      for (const { id, houseId } of await this.#due())
        await this.database.inHouse(systemContext(houseId, 'clock'), (scope, manager) =>
          this.series.bringDue(scope, manager, id),
        );
    } catch (error) {
      this.#log.warn(`The dates of series wait: ${String(error)}`);
    }
    if (this.#timer) this.start();
  }

  /** Those whose last day planned for is not far enough ahead; a zone west of UTC is a day behind at most. */
  #due(): Promise<SeriesEntity[]> {
    const least = dayOf(addDays(this.clock.nowMs(), AHEAD_DAYS - 1, 'UTC'), 'UTC');
    return this.database.installation.find(SeriesEntity, {
      where: { plannedUntil: LessThan(least) },
      take: AT_ONCE,
    });
  }
}
