import { randomBytes } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type { Page } from '@heliphon/contracts/problem';
import type {
  SetWebhook,
  WebhookAnswer,
  WebhookBody,
  WebhookDeliveryView,
  WebhookSecret,
  WebhookView,
} from '@heliphon/contracts/webhooks';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type PageWish } from '../platform/database.js';
import { HappeningEntity, HouseEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { notFound } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { WebhookDeliveryEntity, WebhookEntity } from '../tables/webhook.entity.js';

const SECRET_BYTES = 32;

export const webhookSealPlace = (houseId: string): SealPlace => ({
  houseId,
  table: 'webhooks',
  column: 'sealed_secret',
  id: houseId,
});

/** The address that a house has told us to tell. */
@Injectable()
export class WebhooksService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 404 where there is none. */
  async get(ctx: Context): Promise<WebhookView> {
    return { address: (await this.#row(ctx)).address };
  }

  /** Sets the address; the secret stays, where there is one. */
  async set(ctx: Context, { address }: SetWebhook): Promise<WebhookView> {
    return this.database.transaction(ctx, async (scope) => {
      const known = await scope.findOne(WebhookEntity, {});
      if (known) await scope.save(Object.assign(known, { address }));
      else {
        const last = await this.#lastHappening();
        const sealedSecret = this.#sealed(ctx, newSecret());
        await scope.add(WebhookEntity, { address, sealedSecret, beginsAfter: last, lookedUntil: last });
      }
      await scope.happened({
        subjectKind: 'house',
        subjectId: ctx.houseId,
        kind: 'webhook-set',
        before: known && { address: known.address },
        after: { address },
      });
      return { address };
    });
  }

  /** A new secret, shown once; the old one is good for nothing from now on. */
  async renewSecret(ctx: Context): Promise<WebhookSecret> {
    const secret = newSecret();
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.findOne(WebhookEntity, {});
      if (!row) throw notFound('webhook');
      await scope.save(Object.assign(row, { sealedSecret: this.#sealed(ctx, secret) }));
    });
    return { secret };
  }

  async remove(ctx: Context): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.findOne(WebhookEntity, {});
      if (!row) throw notFound('webhook');
      await scope.remove(WebhookEntity, { houseId: ctx.houseId });
      await scope.happened({
        subjectKind: 'house',
        subjectId: ctx.houseId,
        kind: 'webhook-removed',
        before: { address: row.address },
      });
    });
  }

  /** Sends a message to try it out. */
  async tryOut(ctx: Context): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      if (!(await scope.findOne(WebhookEntity, {}))) throw notFound('webhook');
      const house = { id: ctx.houseId };
      const { id, name } = await this.database.installation.findOneByOrFail(HouseEntity, house);
      const nowMs = this.clock.nowMs();
      const at = new Date(nowMs).toISOString();
      const body: WebhookBody = { version: 1, kind: 'try', at, house: { id, name } };
      await scope.add(WebhookDeliveryEntity, {
        id: newId(),
        happeningId: null,
        kind: 'try',
        body: JSON.stringify(body),
        attempts: 0,
        nextTryAtMs: nowMs,
        createdAtMs: nowMs,
      });
    });
  }

  /** The last deliveries, newest first. */
  async deliveries(ctx: Context, wish: PageWish): Promise<Page<WebhookDeliveryView>> {
    const order = { by: 'createdAtMs', descending: true } as const;
    const { rows, next } = await this.database.house(ctx).page(WebhookDeliveryEntity, order, wish);
    return { items: rows.map(deliveryView), next };
  }

  async #row(ctx: Context): Promise<WebhookEntity> {
    const row = await this.database.house(ctx).findOne(WebhookEntity, {});
    if (!row) throw notFound('webhook');
    return row;
  }

  #sealed({ houseId }: Context, secret: string): string {
    return this.secrets.seal(secret, webhookSealPlace(houseId));
  }

  /** What happened before it was set is not told. */
  async #lastHappening(): Promise<number> {
    const [last] = await this.database.installation.find(HappeningEntity, {
      order: { id: 'DESC' },
      take: 1,
      select: { id: true },
    });
    return Number(last?.id ?? 0);
  }
}

/** As the open convention for webhooks has it: a prefix, and base64 of the key. */
const newSecret = (): string => `whsec_${randomBytes(SECRET_BYTES).toString('base64')}`;

const deliveryView = (row: WebhookDeliveryEntity): WebhookDeliveryView => ({
  id: row.id,
  kind: row.kind,
  createdAtMs: row.createdAtMs,
  attempts: row.attempts,
  deliveredAtMs: row.deliveredAtMs,
  nextTryAtMs: row.nextTryAtMs,
  answer: row.answer as WebhookAnswer | null,
});
