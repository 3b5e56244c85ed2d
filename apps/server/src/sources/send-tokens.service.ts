import Joi from 'joi';
import { having, idKey, payload } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { In, LessThan } from 'typeorm';
import type { AddGuestLink, GuestLink, SendToken } from '@heliphon/contracts/send-tokens';
import { GUEST_LIMITS } from '@heliphon/contracts/send-tokens';
import type { Page } from '@heliphon/contracts/problem';
import { isOver } from '../schedule/event-clash.js';
import { EventEntity } from '../tables/event.entity.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { SendTokenEntity } from '../tables/send-token.entity.js';
import { SourceEntity } from '../tables/source.entity.js';

const SECRET_BITS = 160;
/** As long as a day at the desk. */
const OWN_TOKEN_MS = 24 * 3_600_000;
/** What has run out is of no use to anybody a week later. */
const FORGOTTEN_MS = 7 * 24 * 3_600_000;

const linkPlace = ({ houseId, id }: Pick<SendTokenEntity, 'houseId' | 'id'>): SealPlace => ({
  houseId,
  table: 'sending_lines',
  column: 'sealed_link',
  id,
});

const OF_GUEST = payload(Joi.any(), having<{ readonly lineId: string }>({ lineId: idKey.required() }));

/** Ways for browsers to send: for people of the house, and for guests by a link. */
@Injectable()
export class SendTokensService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
    private readonly nodes: MediaNodes,
    undo: UndoRegistry,
  ) {
    undo.register('guest-invited', 'sources.connect', OF_GUEST, (scope, { after }) =>
      withdraw(scope, after.lineId, this.clock.nowMs()),
    );
    undo.register('guest-withdrawn', 'sources.connect', OF_GUEST, async (scope, { after }) => {
      await scope.save(Object.assign(await tokenOf(scope, after.lineId), { withdrawnAtMs: null }));
    });
  }

  /** A token by which the browser of a member of the house may send. */
  async own(ctx: Context, sourceId: string, requestHost: string): Promise<SendToken> {
    const token = randomText(SECRET_BITS);
    const untilMs = this.clock.nowMs() + OWN_TOKEN_MS;
    const { nodeId } = await this.database.transaction(ctx, async (scope) => {
      const source = await deviceOf(scope, sourceId);
      const row = { id: newId(), sourceId, name: ctx.byName, tokenSha256Hex: sha256Hex(token) };
      await scope.add(SendTokenEntity, { ...row, createdAtMs: this.clock.nowMs(), endsAtMs: untilMs });
      await scope.happened({ subjectKind: 'source', subjectId: sourceId, kind: 'line-opened' });
      return source;
    });
    return { points: this.nodes.ways(nodeId, requestHost), token, untilMs };
  }

  async invite(
    ctx: Context,
    sourceId: string,
    { eventId, name }: AddGuestLink,
    baseUrl: string,
  ): Promise<GuestLink> {
    return this.database.transaction(ctx, async (scope) => {
      await deviceOf(scope, sourceId);
      const event = await scope.get(EventEntity, eventId, 'event');
      if (isOver(event)) throw new ProblemError(409, 'guest-event-over', { title: event.title });
      const others = await scope.find(SendTokenEntity, { where: { eventId }, select: { id: true } });
      if (others.length >= GUEST_LIMITS.guestsOfEvent)
        throw new ProblemError(409, 'guests-too-many', { most: GUEST_LIMITS.guestsOfEvent });
      const link = randomText(SECRET_BITS);
      const named = { id: newId(), houseId: ctx.houseId };
      const row = await scope.add(SendTokenEntity, {
        ...named,
        sourceId,
        eventId,
        name,
        linkSha256Hex: sha256Hex(link),
        sealedLink: this.secrets.seal(link, linkPlace(named)),
        createdAtMs: this.clock.nowMs(),
        endsAtMs: event.hardStopAtMs,
      });
      await scope.happened({
        subjectKind: 'source',
        subjectId: sourceId,
        kind: 'guest-invited',
        after: { lineId: row.id, name, eventId },
      });
      return this.#view(row, event, baseUrl);
    });
  }

  async list(ctx: Context, sourceId: string, wish: PageWish, baseUrl: string): Promise<Page<GuestLink>> {
    const scope = this.database.house(ctx);
    await scope.get(SourceEntity, sourceId, 'source');
    const order = { by: 'createdAtMs', descending: true } as const;
    const { rows, next } = await scope.page(SendTokenEntity, { ...order, where: { sourceId } }, wish);
    const guests = rows.filter(({ eventId }) => eventId !== null);
    const ids = [...new Set(guests.map(({ eventId }) => eventId!))];
    const events = ids.length > 0 ? await scope.find(EventEntity, { where: { id: In(ids) } }) : [];
    const byId = new Map(events.map((event) => [event.id, event]));
    return { items: guests.map((row) => this.#view(row, byId.get(row.eventId!)!, baseUrl)), next };
  }

  /** Takes a guest's link back: anyone who sends by it is cut off at once. */
  async withdraw(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const { sourceId, name } = await withdraw(scope, id, this.clock.nowMs());
      const after = { lineId: id, name };
      await scope.happened({ subjectKind: 'source', subjectId: sourceId, kind: 'guest-withdrawn', after });
    });
  }

  /** Lines that ran out long ago. */
  async tidy(): Promise<void> {
    const before = LessThan(this.clock.nowMs() - FORGOTTEN_MS);
    await this.database.installation.delete(SendTokenEntity, { endsAtMs: before });
  }

  #view(row: SendTokenEntity, event: EventEntity, baseUrl: string): GuestLink {
    return {
      id: row.id,
      sourceId: row.sourceId,
      event: { id: event.id, title: event.title },
      name: row.name,
      url: `${baseUrl}/join/${this.secrets.open(row.sealedLink!, linkPlace(row))}`,
      state: stateOf(row, event),
      createdAtMs: row.createdAtMs,
      claimedAtMs: row.claimedAtMs,
    };
  }
}

function stateOf({ withdrawnAtMs, claimedAtMs }: SendTokenEntity, event: EventEntity): GuestLink['state'] {
  if (withdrawnAtMs !== null) return 'withdrawn';
  if (isOver(event)) return 'over';
  return claimedAtMs === null ? 'waiting' : 'opened';
}

/** @throws ProblemError 409 for a source that nobody sends to. */
async function deviceOf(scope: HouseScope, sourceId: string): Promise<SourceEntity> {
  const source = await scope.get(SourceEntity, sourceId, 'source');
  if (source.kind !== 'device') throw new ProblemError(409, 'source-takes-no-camera');
  return source;
}

const tokenOf = (scope: HouseScope, id: string): Promise<SendTokenEntity> =>
  scope.lock(SendTokenEntity, { id }, 'line');

async function withdraw(scope: HouseScope, id: string, withdrawnAtMs: number): Promise<SendTokenEntity> {
  return scope.save(Object.assign(await tokenOf(scope, id), { withdrawnAtMs }));
}
