import { createHmac } from 'node:crypto';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { In, IsNull, LessThan, LessThanOrEqual, MoreThan } from 'typeorm';
import type { Fault } from '@heliphon/core/faults/fault';
import type { HappeningKind } from '@heliphon/contracts/happenings';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, type HouseScope, systemContext } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { HappeningEntity, HouseEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { HAPPENED } from '../platform/happened.js';
import { FanOut } from '../platform/shared/fan-out.js';
import { ownUrl } from '../platform/public-url.js';
import { pauseAfter } from '../platform/retry-pauses.js';
import { Secrets } from '../platform/secrets.js';
import { namesOf } from '../signal/fault-names.js';
import { EventEntity } from '../tables/event.entity.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { WebhookDeliveryEntity, WebhookEntity } from '../tables/webhook.entity.js';
import { postOutside } from './post-outside.js';
import { TOLD, webhookBody } from './webhook-body.js';
import { webhookSealPlace } from './webhooks.service.js';

const EVERY_MS = 1000;
/** News is sent at once; whatever was missed, say while the database was away, is looked for at this interval. */
const LOOKS_EVERYWHERE_EVERY_MS = 60_000;
/** Rows get their numbers before their transactions end, so a late one may have a lower number than those already seen. */
const LOOKS_BACK = 300;
const LATE_MS = 60_000;
const AT_ONCE = 100;
/** Longer than any try takes. */
const CLAIM_MS = 30_000;
const KEPT_MS = 30 * 86_400_000;

/** Tells webhooks what happens: as rows first, so that nothing is lost, then one by one, again and again until taken. */
@Injectable()
export class WebhookSender extends RepeatedWork {
  /** Houses in which something has happened that a webhook may be told of. */
  readonly #withNews = new Set<string>();
  /** What is being sent, by house. */
  readonly #sending = new Map<string, Promise<void>>();
  readonly #log = new Logger('Webhooks');
  #lookedAtMs = -Infinity;
  #isOver = false;
  #stopListening = (): void => undefined;
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Webhooks wait';

  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
    private readonly fanOut: FanOut,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {
    super();
  }

  override start(): void {
    this.#stopListening = this.fanOut.listen(HAPPENED, ({ houseId, kind }) => {
      if (TOLD[kind]) this.#withNews.add(houseId);
    });
    super.start();
  }

  override async onApplicationShutdown(): Promise<void> {
    this.#isOver = true;
    this.#stopListening();
    await super.onApplicationShutdown();
    await Promise.all(this.#sending.values());
  }

  async work(): Promise<void> {
    const withNews = new Set(this.#withNews);
    this.#withNews.clear();
    const hooks = await this.database.installation.find(WebhookEntity);
    const isEverywhere = performance.now() - this.#lookedAtMs > LOOKS_EVERYWHERE_EVERY_MS;
    if (isEverywhere) this.#lookedAtMs = performance.now();
    for (const hook of hooks) if (isEverywhere || withNews.has(hook.houseId)) await this.#collect(hook);
    if (hooks.length > 0) await this.#sendDue(hooks);
    if (isEverywhere) await this.#letGo();
  }

  /** Writes down what a house is to be told. */
  async #collect({ houseId }: WebhookEntity): Promise<void> {
    await this.database.inHouse(systemContext(houseId, 'system'), async (scope, manager) => {
      // One server at a time.
      const hook = await manager.findOne(WebhookEntity, {
        where: { houseId },
        lock: { mode: 'pessimistic_write' },
      });
      if (!hook) return;
      const happenings = await scope.find(HappeningEntity, {
        where: {
          id: MoreThan(String(Math.max(hook.beginsAfter, hook.lookedUntil - LOOKS_BACK))),
          kind: In(Object.keys(TOLD) as HappeningKind[]),
        },
        order: { id: 'ASC' },
        take: AT_ONCE + LOOKS_BACK,
      });
      const known = await scope.find(WebhookDeliveryEntity, {
        where: { happeningId: In(happenings.map(({ id }) => id)) },
        select: { happeningId: true },
      });
      const told = new Set(known.map(({ happeningId }) => Number(happeningId)));
      const house = await manager.findOneByOrFail(HouseEntity, { id: houseId });
      for (const happening of happenings) {
        const isNew =
          Number(happening.id) > hook.lookedUntil || happening.atMs > this.clock.nowMs() - LATE_MS;
        if (isNew && !told.has(Number(happening.id))) await this.#add(scope, house, happening);
      }
      const last = Number(happenings.at(-1)?.id ?? 0);
      if (last > hook.lookedUntil) await scope.save(Object.assign(hook, { lookedUntil: last }));
    });
  }

  async #add(scope: HouseScope, house: HouseEntity, happening: HappeningEntity): Promise<void> {
    const event = await this.#eventOf(scope, happening);
    // Rehearsals and drafts are nobody else's business.
    if (!event || event.rehearsalOf !== null || event.isDraft) return;
    const { fault } = (happening.after ?? {}) as { fault?: Fault };
    const nowMs = this.clock.nowMs();
    const names = fault && (await namesOf(scope, [fault]))(fault);
    const body = webhookBody({
      happening,
      house,
      event,
      ownUrl: ownUrl(this.config),
      fault: fault && names ? { fault, names } : null,
    });
    await scope.add(WebhookDeliveryEntity, {
      id: newId(),
      happeningId: happening.id,
      kind: body.kind,
      body: JSON.stringify(body),
      attempts: 0,
      nextTryAtMs: nowMs,
      createdAtMs: nowMs,
    });
  }

  async #eventOf(
    scope: HouseScope,
    { subjectKind, subjectId }: HappeningEntity,
  ): Promise<EventEntity | null> {
    if (subjectKind !== 'recording') return scope.findOne(EventEntity, { id: subjectId });
    const recording = await scope.findOne(RecordingEntity, { id: subjectId });
    return recording && scope.findOne(EventEntity, { id: recording.eventId });
  }

  /** One slow receiver holds up no other: each house has its own line, and in that one message follows another. */
  async #sendDue(hooks: readonly WebhookEntity[]): Promise<void> {
    const deliveries = this.database.installation.getRepository(WebhookDeliveryEntity);
    const nowMs = this.clock.nowMs();
    for (const hook of hooks) {
      if (this.#sending.has(hook.houseId)) continue;
      const due = await deliveries.find({
        where: { houseId: hook.houseId, nextTryAtMs: LessThanOrEqual(nowMs) },
        order: { createdAtMs: 'ASC', id: 'ASC' },
        take: AT_ONCE,
      });
      if (due.length === 0) continue;
      const sending = this.#sendAll(hook, due)
        .catch((error: unknown) => this.#log.warn(`A webhook waits: ${String(error)}`))
        .finally(() => this.#sending.delete(hook.houseId));
      this.#sending.set(hook.houseId, sending);
    }
  }

  /** Nobody looks at what was sent so long ago. */
  async #letGo(): Promise<void> {
    const createdAtMs = LessThan(this.clock.nowMs() - KEPT_MS);
    await this.database.installation.delete(WebhookDeliveryEntity, { nextTryAtMs: IsNull(), createdAtMs });
  }

  async #sendAll(hook: WebhookEntity, due: readonly WebhookDeliveryEntity[]): Promise<void> {
    for (const delivery of due) {
      if (this.#isOver) return;
      if (await this.#claim(delivery)) await this.#send(hook, delivery);
    }
  }

  /** Puts the next try off for the server that is first; another takes it if this one falls. */
  async #claim({ id, attempts }: WebhookDeliveryEntity): Promise<boolean> {
    const { affected } = await this.database.installation.update(
      WebhookDeliveryEntity,
      { id, attempts },
      { attempts: attempts + 1, nextTryAtMs: this.clock.nowMs() + CLAIM_MS },
    );
    return affected === 1;
  }

  async #send(
    { houseId, address, sealedSecret }: WebhookEntity,
    delivery: WebhookDeliveryEntity,
  ): Promise<void> {
    const { id, body, attempts } = delivery;
    const secret = this.secrets.open(sealedSecret, webhookSealPlace(houseId));
    const headers = signed(secret, id, body, Math.floor(this.clock.nowMs() / 1000));
    const answer = await postOutside(address, body, headers, this.config.innerWebhooks);
    const isDelivered = answer === 'delivered';
    const pauseMs = isDelivered ? null : pauseAfter(attempts + 1);
    const nowMs = this.clock.nowMs();
    await this.database.installation.update(
      WebhookDeliveryEntity,
      { id },
      {
        answer,
        deliveredAtMs: isDelivered ? nowMs : null,
        nextTryAtMs: pauseMs === null ? null : nowMs + pauseMs,
      },
    );
  }
}

/** After the open "Standard Webhooks" convention, version 1.0.0: HMAC-SHA-256 over id, time and body. */
export function signed(
  secret: string,
  id: string,
  body: string,
  atSeconds: number,
): Readonly<Record<string, string>> {
  const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
  const signature = createHmac('sha256', key).update(`${id}.${atSeconds}.${body}`).digest('base64');
  return {
    'Content-Type': 'application/json',
    'webhook-id': id,
    'webhook-timestamp': String(atSeconds),
    'webhook-signature': `v1,${signature}`,
  };
}
