import { Injectable } from '@nestjs/common';
import { In, LessThan } from 'typeorm';
import type { AddGuestLink, GuestLink, SendingLine } from '@heliphon/contracts/lines';
import { LINE_LIMITS } from '@heliphon/contracts/lines';
import type { Page } from '@heliphon/contracts/problem';
import { isOver } from '../events/event-clash.js';
import { EventEntity } from '../events/event.entity.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { LineEntity } from './line.entity.js';
import { SourceEntity } from './source.entity.js';

const SECRET_BITS = 160;
/** As long as a day at the desk. */
const OWN_LINE_MS = 24 * 3_600_000;
/** What has run out is of no use to anybody a week later. */
const FORGOTTEN_MS = 7 * 24 * 3_600_000;

const linkPlace = ({ houseId, id }: Pick<LineEntity, 'houseId' | 'id'>): SealPlace => ({
  houseId,
  table: 'sending_lines',
  column: 'sealed_link',
  id,
});

/** Ways for browsers to send: for people of the house, and for guests by a link. */
@Injectable()
export class LinesService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
    private readonly nodes: MediaNodes,
    undo: UndoRegistry,
  ) {
    undo.register('guest-invited', (scope, { after }) =>
      withdraw(scope, lineIdOf(after), this.clock.nowMs()),
    );
    undo.register('guest-withdrawn', async (scope, { after }) => {
      await scope.save(Object.assign(await lineOf(scope, lineIdOf(after)), { withdrawnAtMs: null }));
    });
  }

  /** A line for the browser of somebody of the house. */
  async own(ctx: Context, sourceId: string, requestHost: string): Promise<SendingLine> {
    const token = randomText(SECRET_BITS);
    const untilMs = this.clock.nowMs() + OWN_LINE_MS;
    const { nodeId } = await this.database.transaction(ctx, async (scope) => {
      const source = await deviceOf(scope, sourceId);
      const row = { id: newId(), sourceId, name: ctx.byName, tokenSha256Hex: sha256Hex(token) };
      await scope.add(LineEntity, { ...row, createdAtMs: this.clock.nowMs(), endsAtMs: untilMs });
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
      const others = await scope.find(LineEntity, { where: { eventId }, select: { id: true } });
      if (others.length >= LINE_LIMITS.guestsOfEvent)
        throw new ProblemError(409, 'guests-too-many', { most: LINE_LIMITS.guestsOfEvent });
      const link = randomText(SECRET_BITS);
      const named = { id: newId(), houseId: ctx.houseId };
      const row = await scope.add(LineEntity, {
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
    const { rows, next } = await scope.page(LineEntity, { ...order, where: { sourceId } }, wish);
    const guests = rows.filter(({ eventId }) => eventId !== null);
    const ids = [...new Set(guests.map(({ eventId }) => eventId!))];
    const events = ids.length > 0 ? await scope.find(EventEntity, { where: { id: In(ids) } }) : [];
    const byId = new Map(events.map((event) => [event.id, event]));
    return { items: guests.map((row) => this.#view(row, byId.get(row.eventId!)!, baseUrl)), next };
  }

  /** Takes a guest's link back: whoever sends by it is cut off at once. */
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
    await this.database.installation.delete(LineEntity, { endsAtMs: before });
  }

  #view(row: LineEntity, event: EventEntity, baseUrl: string): GuestLink {
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

function stateOf({ withdrawnAtMs, claimedAtMs }: LineEntity, event: EventEntity): GuestLink['state'] {
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

const lineOf = (scope: HouseScope, id: string): Promise<LineEntity> => scope.lock(LineEntity, { id }, 'line');
const lineIdOf = (after: unknown): string => (after as { lineId: string }).lineId;

async function withdraw(scope: HouseScope, id: string, withdrawnAtMs: number): Promise<LineEntity> {
  return scope.save(Object.assign(await lineOf(scope, id), { withdrawnAtMs }));
}
