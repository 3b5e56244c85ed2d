import { Injectable } from '@nestjs/common';
import { LessThan } from 'typeorm';
import type { BucketRule } from '@heliphon/core/access/token-bucket';
import type { Page } from '@heliphon/contracts/problem';
import type { TellOfTrouble, ViewerReportView } from '@heliphon/contracts/viewer-reports';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type PageWish, systemContext } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { EventEntity } from '../tables/event.entity.js';
import { ViewerReportEntity } from '../tables/viewer-report.entity.js';

/** From one address: a hall full of people behind one router may have the same trouble. */
const TELLING_RULE: BucketRule = { burst: 10, everyMs: 30_000 };
const KEPT_MS = 365 * 24 * 3_600_000;
/** More than this nobody reads, and each says the same. */
const MOST_OF_EVENT = 500;

/** What viewers tell the house of missing picture or sound. */
@Injectable()
export class ViewerReports {
  readonly #telling: Limiter;

  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    buckets: Buckets,
  ) {
    this.#telling = new Limiter(buckets, 'viewers tell', TELLING_RULE);
  }

  /** @param address - by which they are limited; it is not kept. @param device - the kind of browser, in words */
  async tell(
    { id: eventId, houseId }: EventEntity,
    { complaint, finding, moments }: TellOfTrouble,
    address: string,
    device: string,
  ): Promise<void> {
    await this.#telling.require(`${address} ${eventId}`, 'viewer-told-already');
    const scope = this.database.house(systemContext(houseId, 'system'));
    if ((await scope.count(ViewerReportEntity, { eventId })) >= MOST_OF_EVENT) return;
    const report = { id: newId(), eventId, atMs: this.clock.nowMs(), complaint, finding, device, moments };
    await scope.addAll(ViewerReportEntity, [report]);
  }

  /** Lets go of what was told long ago. */
  async tidy(): Promise<void> {
    const old = { atMs: LessThan(this.clock.nowMs() - KEPT_MS) };
    await this.database.installation.delete(ViewerReportEntity, old);
  }

  /** The newest first. */
  async list(ctx: Context, eventId: string, wish: PageWish): Promise<Page<ViewerReportView>> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const order = { by: 'atMs', descending: true, where: { eventId } } as const;
    const { rows, next } = await scope.page(ViewerReportEntity, order, wish);
    const items = rows.map(({ id, atMs, complaint, finding, device, moments }) => ({
      id,
      atMs,
      complaint,
      finding,
      device,
      moments,
    }));
    return { items, next };
  }
}
