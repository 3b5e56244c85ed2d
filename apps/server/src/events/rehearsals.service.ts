import { Injectable } from '@nestjs/common';
import { In } from 'typeorm';
import { rehearsalEnd } from '@heliphon/core/schedule/rehearsal';
import { EVENT_LIMITS, type EventView, type RehearsalView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import { sheetOf, writeSheet } from '../order/order-sheets.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { newId, randomText } from '../platform/ids.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { takeAddress } from './event-addresses.js';
import { isShared } from '@heliphon/core/ingest/source-kinds';
import { SourceEntity } from '../tables/source.entity.js';
import { dueInstants, settingsOf } from './event-settings.js';
import { EventEntity } from '../tables/event.entity.js';
import { EventViews } from './event-views.js';

/** The address alone lets somebody in: it cannot be guessed. */
const SECRET_BITS = 130;
/** Who rehearses wants to see the picture. */
const NO_FILM = { filmId: null, filmMs: 0 } as const;
const SUFFIX = ', rehearsal';

/** Private rehearsals: an event's source and settings, at once, at an address that only those who have it know. */
@Injectable()
export class RehearsalsService {
  constructor(
    private readonly database: Database,
    private readonly views: EventViews,
    private readonly clock: Clock,
  ) {}

  /** Goes on air this minute; nothing public moves. @throws ProblemError 409 where the source is needed or there is none */
  async start(ctx: Context, eventId: string): Promise<EventView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const event = await scope.lock(EventEntity, { id: eventId }, 'event');
      if (event.state !== 'planned' || event.rehearsalOf)
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'rehearse' });
      if (!event.sourceId) throw new ProblemError(409, 'no-source-to-rehearse');
      const nowMs = this.clock.nowMs();
      if (await this.#running(scope, eventId)) throw new ProblemError(409, 'rehearsing-already');
      const { kind } = await scope.get(SourceEntity, event.sourceId, 'source');
      const others = isShared(kind)
        ? []
        : await scope.find(EventEntity, {
            where: { sourceId: event.sourceId, state: 'planned', isDraft: false },
          });
      const end = rehearsalEnd(
        nowMs,
        others.map(({ doorsDueAtMs }) => doorsDueAtMs),
      );
      if (!end.ok) throw new ProblemError(409, end.error.code, { at: end.error.doorsAtMs });
      const id = newId();
      const settings = {
        ...settingsOf(event),
        ...NO_FILM,
        doorsMinutes: 0,
        overrunMinutes: 0,
        chatOpen: false,
      };
      const times = { startsAtMs: nowMs, stopsAtMs: end.value };
      const target = { houseId: ctx.houseId, kind: 'event', targetId: id } as const;
      const rehearsal = await scope.add(EventEntity, {
        id,
        slug: await takeAddress(manager, `rehearsal-${randomText(SECRET_BITS)}`, target),
        title: `${event.title.slice(0, EVENT_LIMITS.titleLength - SUFFIX.length)}${SUFFIX}`,
        zone: event.zone,
        sourceId: event.sourceId,
        ...settings,
        ...times,
        ...dueInstants({ ...times, ...settings }),
        state: 'planned',
        programmeId: newId(),
        grantsValidFromMs: 0,
        rehearsalOf: eventId,
        isDraft: false,
      });
      const order = await sheetOf(scope, event);
      if (order) await writeSheet(scope, { eventId: id }, order.items);
      await scope.happened({
        subjectKind: 'event',
        subjectId: eventId,
        kind: 'rehearsal-started',
        after: { rehearsalId: id },
      });
      return this.views.one(scope, rehearsal);
    });
  }

  /** The latest first, each with what was recorded of it. */
  async list(ctx: Context, eventId: string, wish: PageWish): Promise<Page<RehearsalView>> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const where = { rehearsalOf: eventId };
    const { rows, next } = await scope.page(EventEntity, { by: 'startsAtMs', descending: true, where }, wish);
    const recordings = rows.length
      ? await scope.find(RecordingEntity, { where: { eventId: In(rows.map(({ id }) => id)), kind: 'whole' } })
      : [];
    const views = await this.views.all(scope, rows);
    return {
      items: views.map((event) => {
        const recording = recordings.find((one) => one.eventId === event.id && one.binnedAtMs === null);
        return {
          event,
          recording: recording ? { id: recording.id, durationMs: recording.durationMs } : null,
        };
      }),
      next,
    };
  }

  /** What was rehearsed is an event of its own from now on. */
  async keep(ctx: Context, id: string): Promise<EventView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      if (!event.rehearsalOf) throw notFound('rehearsal');
      if (event.state !== 'kept')
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'keep' });
      const before = { rehearsalOf: event.rehearsalOf };
      const saved = await scope.save(Object.assign(event, { rehearsalOf: null }));
      await scope.happened({
        subjectKind: 'event',
        subjectId: id,
        kind: 'rehearsal-kept',
        before,
        after: { rehearsalOf: null },
      });
      return this.views.one(scope, saved);
    });
  }

  async #running(scope: HouseScope, rehearsalOf: string): Promise<boolean> {
    return (
      (await scope.findOne(EventEntity, { rehearsalOf, state: In(['planned', 'doors', 'air']) })) !== null
    );
  }
}
