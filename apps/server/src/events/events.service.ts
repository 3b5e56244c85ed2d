import { settingsUntil } from '@heliphon/core/schedule/event-settings';
import Joi from 'joi';
import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import { onDuty, type OnDuty } from '@heliphon/core/duties/duties';
import type { OrderItem } from '@heliphon/core/order/order-sheet';
import { isZone, localOf } from '@heliphon/core/schedule/civil-time';
import type { Check } from '@heliphon/core/readiness/readiness';
import {
  type ChooseEnd,
  type ChooseFeed,
  EVENT_LIMITS,
  type EditEvent,
  type EventView,
  type PlanEvent,
} from '@heliphon/contracts/events';
import { ChannelEntity } from '../tables/channel.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { dutiesOf, setDuties } from '../schedule/event-duties.js';
import { FileEntity } from '../tables/file.entity.js';
import { filmLength } from '../files/film-length.js';
import { OrderSheetEntity } from '../tables/order.entity.js';
import { sheetOf, writeSheet } from '../order/order-sheets.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { AddressEntity, HouseEntity, MembershipEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type UndoHandler, UndoRegistry } from '../platform/undo-registry.js';
import { SeriesEntity, SeriesSkipEntity } from '../tables/series.entity.js';
import { skipDate } from './skip-date.js';
import { checkSource, checkStandby } from '../schedule/followed.js';
import { SourceEntity } from '../tables/source.entity.js';
import { isOver } from '../schedule/event-clash.js';
import { EventEntity } from '../tables/event.entity.js';
import { renameAddress, slugOf, takeAddress } from './event-addresses.js';
import { placesOf, setDestinations } from './event-places.js';
import { checkedTimes, dueInstants, settingsOf, USUAL_TEMPLATE } from './event-settings.js';
import { EventViews } from './event-views.js';
import { changedFields } from './own-fields.js';
import { takeBack } from './take-back-edit.js';

/** What may be changed once the doors are open or the event is over. */
const EDITABLE_LATE: readonly (keyof EditEvent)[] = [
  'title',
  'description',
  'destinationIds',
  'duties',
  'sourceId',
  'standbySourceId',
  'channelId',
  'slug',
  ...settingsUntil('always'),
];
const EDITABLE_RUNNING: readonly (keyof EditEvent)[] = [
  ...EDITABLE_LATE,
  'stopsAtLocal',
  ...settingsUntil('end'),
];

type EventOrigin = Partial<Pick<EventEntity, 'importUid' | 'description'>>;

interface DeletedEvent {
  readonly event: EventEntity;
  readonly destinationIds: readonly string[];
  readonly duties: readonly OnDuty[];
  /** `null`: it had no sheet of its own. */
  readonly order: readonly OrderItem[] | null;
}

const SLUG = { slug: textKey.required() };
const EDITED = payload(having<EventView>(SLUG), having<EventView>(SLUG));
const DELETED = payload(
  having<DeletedEvent>({
    event: having<EventEntity>({ id: idKey.required(), ...SLUG }),
    destinationIds: Joi.array().items(idKey).required(),
    duties: Joi.array().required(),
    order: Joi.array().allow(null).required(),
  }),
);
const POSTER = payload(having<Pick<EventEntity, 'posterId'>>({}));

@Injectable()
export class EventsService {
  constructor(
    private readonly database: Database,
    private readonly views: EventViews,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    undo.register('event-planned', 'events.edit', payload(), (scope, { subjectId }, manager) =>
      this.#removeRow(scope, manager, subjectId),
    );
    undo.register('event-deleted', 'events.edit', DELETED, this.#bringBack);
    undo.register('event-edited', 'events.edit', EDITED, this.#takeBackEdit);
    undo.register('poster-changed', 'events.edit', POSTER, async (scope, { subjectId, before }) => {
      const event = await scope.lock(EventEntity, { id: subjectId }, 'event');
      await scope.save(Object.assign(event, before));
    });
  }

  async get(ctx: Context, id: string): Promise<EventView> {
    const scope = this.database.house(ctx);
    return this.views.one(scope, await scope.get(EventEntity, id, 'event'));
  }

  async checks(ctx: Context, id: string): Promise<readonly Check[]> {
    const scope = this.database.house(ctx);
    const event = await scope.get(EventEntity, id, 'event');
    return (await this.views.checksOf(scope, [event])).get(id) ?? [];
  }

  /** @param origin - what an entry of a calendar file brings along. */
  async plan(ctx: Context, wish: PlanEvent, origin: EventOrigin = {}): Promise<EventView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const house = await manager.findOneByOrFail(HouseEntity, { id: ctx.houseId });
      if (wish.channelId) await scope.get(ChannelEntity, wish.channelId, 'channel');
      const id = newId();
      await checkSource(scope, wish.sourceId, { eventId: id });
      const slug = await takeAddress(manager, slugOf(wish.title), {
        houseId: ctx.houseId,
        kind: 'event',
        targetId: id,
      });
      const times = checkedTimes(wish.startsAtLocal, wish.stopsAtLocal, house.zone);
      const like = wish.likeEventId && (await scope.get(EventEntity, wish.likeEventId, 'event'));
      const settings = like ? settingsOf(like) : USUAL_TEMPLATE;
      const row = await scope.add(EventEntity, {
        id,
        slug,
        title: wish.title,
        zone: house.zone,
        sourceId: wish.sourceId,
        channelId: wish.channelId,
        isDraft: wish.isDraft,
        ...times,
        ...settings,
        ...origin,
        ...dueInstants({ ...times, ...settings }),
        state: 'planned',
        programmeId: newId(),
        grantsValidFromMs: 0,
      });
      if (like) await setDestinations(scope, id, await placesOf(scope, like.id));
      const order = like && (await sheetOf(scope, like));
      if (order) await writeSheet(scope, { eventId: id }, order.items);
      await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'event-planned', after: wish });
      return this.views.one(scope, row);
    });
  }

  /** Changes what is given; the caller has to know the present version. */
  async edit(ctx: Context, id: string, version: number, change: EditEvent): Promise<EventView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const event = await scope.lockVersion(EventEntity, id, version, 'event', (row) =>
        this.views.one(scope, row),
      );
      const before = await this.views.plain(scope, event);
      await this.#apply(scope, manager, event, change);
      let after = await this.views.plain(scope, event);
      if (event.seriesId) {
        const ownFields = [...new Set([...event.ownFields, ...changedFields(before, after)])];
        if (ownFields.length > event.ownFields.length) {
          await scope.save(Object.assign(event, { ownFields }));
          after = await this.views.plain(scope, event);
        }
      }
      await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'event-edited', before, after });
      return this.views.one(scope, event);
    });
  }

  /** The desk's answer when the planned end comes near; without one it may run over as far as was planned. */
  async chooseEnd(ctx: Context, id: string, wish: ChooseEnd['wish']): Promise<EventView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      if (event.state !== 'air')
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: wish });
      const before = await this.views.plain(scope, event);
      const laterMs = event.stopsAtMs + EVENT_LIMITS.longerMinutes * 60_000;
      const change =
        wish === 'longer' ? { stopsAtLocal: localOf(laterMs, event.zone) } : { overrunMinutes: 0 };
      await this.#apply(scope, manager, event, change);
      const after = await this.views.plain(scope, event);
      await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'event-edited', before, after });
      return this.views.one(scope, event);
    });
  }

  /** The desk passes over the opening film: the picture comes at once. @throws ProblemError 409 unless on air */
  async skipFilm(ctx: Context, id: string): Promise<EventView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      if (event.state !== 'air')
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'skip-film' });
      if (!event.filmSkipped) {
        await scope.save(Object.assign(event, { filmSkipped: true }));
        await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'film-skipped' });
      }
      return this.views.one(scope, event);
    });
  }

  /** The desk chooses which of its two sources feeds it whenever it can. @throws ProblemError 409 unless on air with two */
  async chooseFeed(ctx: Context, id: string, { from }: ChooseFeed): Promise<EventView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      if ((event.state !== 'air' && event.state !== 'doors') || event.standbySourceId === null)
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'choose-feed' });
      const prefersStandby = from === 'standby';
      if (event.prefersStandby !== prefersStandby) {
        await scope.save(Object.assign(event, { prefersStandby }));
        await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'feed-chosen', after: { from } });
      }
      return this.views.one(scope, event);
    });
  }

  async #apply(
    scope: HouseScope,
    manager: EntityManager,
    event: EventEntity,
    change: EditEvent,
  ): Promise<void> {
    checkEditable(event, change);
    const { startsAtLocal, stopsAtLocal, slug, destinationIds, duties, ...plain } = change;
    if (plain.zone !== undefined && !isZone(plain.zone)) throw refusedField('zone', 'no-such-zone');
    const source = await checkSource(scope, plain.sourceId, { eventId: event.id, seriesId: event.seriesId });
    await checkStandby(scope, { ...event, ...plain }, { eventId: event.id, seriesId: event.seriesId });
    if (plain.channelId) await scope.get(ChannelEntity, plain.channelId, 'channel');
    if (startsAtLocal !== undefined || stopsAtLocal !== undefined || plain.zone !== undefined) {
      const zone = plain.zone ?? event.zone;
      const starts = startsAtLocal ?? localOf(event.startsAtMs, event.zone);
      const stops = stopsAtLocal ?? localOf(event.stopsAtMs, event.zone);
      Object.assign(event, checkedTimes(starts, stops, zone));
    }
    if (plain.filmId !== undefined) event.filmMs = await filmLength(scope, plain.filmId);
    Object.assign(event, plain);
    // What is a film itself begins with none.
    if (source?.kind === 'file') Object.assign(event, { filmId: null, filmMs: 0 });
    if (plain.isDraft === false && event.stopsAtMs <= this.clock.nowMs())
      throw refusedField('isDraft', 'draft-too-late');
    Object.assign(event, dueInstants(event));
    if (slug !== undefined && slug !== event.slug) {
      const target = { houseId: event.houseId, kind: 'event', targetId: event.id } as const;
      event.slug = await renameAddress(manager, event.slug, slug, target, this.clock.nowMs());
    }
    if (destinationIds) await setDestinations(scope, event.id, destinationIds);
    if (duties) await setDuties(scope, event.id, duties);
    await scope.save(event);
  }

  async setPoster(ctx: Context, id: string, posterId: string | null): Promise<EventView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      const before = { posterId: event.posterId, ownFields: event.ownFields };
      event.posterId = posterId;
      if (event.seriesId) event.ownFields = [...new Set([...event.ownFields, 'posterId' as const])];
      const saved = await scope.save(event);
      await scope.happened({
        subjectKind: 'event',
        subjectId: id,
        kind: 'poster-changed',
        before,
        after: { posterId },
      });
      return this.views.one(scope, saved);
    });
  }

  /** Only what has not begun can be deleted. */
  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      const before = await this.#removeRow(scope, manager, id);
      await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'event-deleted', before });
    });
  }

  /** What has to be known of an event to bring it back. */
  async #removeRow(scope: HouseScope, manager: EntityManager, id: string): Promise<DeletedEvent> {
    const event = await scope.lock(EventEntity, { id }, 'event');
    if (event.state !== 'planned')
      throw new ProblemError(409, 'not-planned-any-more', { state: event.state });
    const destinationIds = await placesOf(scope, id);
    const duties = onDuty(await dutiesOf(scope, [id]));
    const order = (await scope.findOne(OrderSheetEntity, { eventId: id }))?.items ?? null;
    await scope.remove(EventEntity, { id });
    await manager.update(AddressEntity, { targetId: id }, { retiredAtMs: this.clock.nowMs() });
    if (event.seriesId) await skipDate(scope, event.seriesId, event.seriesDate!);
    return { event, destinationIds, duties, order };
  }

  readonly #bringBack: UndoHandler<DeletedEvent> = async (scope, { subjectId, before }, manager) => {
    const { event, destinationIds, duties, order } = before;
    const { sourceId, standbySourceId, channelId, filmId, seriesId, seriesDate } = event;
    const source = sourceId && (await scope.findOne(SourceEntity, { id: sourceId }));
    const standby = standbySourceId && (await scope.findOne(SourceEntity, { id: standbySourceId }));
    const film = filmId && (await scope.findOne(FileEntity, { id: filmId }));
    const channel = channelId && (await scope.findOne(ChannelEntity, { id: channelId }));
    const series = seriesId && (await scope.findOne(SeriesEntity, { id: seriesId }));
    const date = series ? { seriesId: series.id, seriesDate } : { seriesId: null, seriesDate: null };
    // The series may have been given this date again.
    if (series && (await scope.findOne(EventEntity, { seriesId: series.id, seriesDate: seriesDate! })))
      throw new ProblemError(409, 'changed-since');
    const rest = {
      sourceId: source ? sourceId : null,
      standbySourceId: standby ? standbySourceId : null,
      channelId: channel ? channelId : null,
      ...(film ? {} : { filmId: null, filmMs: 0 }),
    };
    await scope.add(EventEntity, { ...event, ...date, ...rest });
    if (series) await scope.remove(SeriesSkipEntity, { seriesId: series.id, date: seriesDate! });
    const there = await scope.find(DestinationEntity, { where: { id: In([...destinationIds]) } });
    await setDestinations(
      scope,
      subjectId,
      there.map(({ id }) => id),
    );
    const members = await scope.find(MembershipEntity);
    const isHere = ({ personId }: OnDuty): boolean => members.some((one) => one.personId === personId);
    await setDuties(scope, subjectId, duties.filter(isHere));
    if (order) await writeSheet(scope, { eventId: subjectId }, order);
    await manager.update(AddressEntity, { targetId: subjectId }, { retiredAtMs: null });
  };

  /** Only the fields that this edit changed go back, and only where nobody has changed them since. */
  readonly #takeBackEdit: UndoHandler<EventView, EventView> = async (
    scope,
    { subjectId, before, after },
    manager,
  ) => {
    const event = await scope.lock(EventEntity, { id: subjectId }, 'event');
    const now = await this.views.plain(scope, event);
    const { change, isStale } = takeBack(before, after, now);
    if (isStale) throw new ProblemError(409, 'changed-since');
    await this.#apply(scope, manager, event, change);
    const was = before.series?.ownFields ?? [];
    const became = after.series?.ownFields ?? [];
    event.ownFields = event.ownFields.filter((field) => was.includes(field) || !became.includes(field));
    await scope.save(event);
  };
}

function checkEditable(event: EventEntity, change: EditEvent): void {
  if (event.state === 'planned') return;
  const allowed = isOver(event) ? EDITABLE_LATE : EDITABLE_RUNNING;
  const refused = Object.keys(change).find((field) => !allowed.includes(field as keyof EditEvent));
  if (refused) throw new ProblemError(409, 'too-late-to-change', { field: refused, state: event.state });
}
