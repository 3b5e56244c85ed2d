import { isDeepStrictEqual } from 'node:util';
import Joi from 'joi';
import { having, payload, textKey } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { occurrencesOf } from '@heliphon/core/schedule/recurrence';
import type { Rule } from '@heliphon/core/schedule/rule-choices';
import type { Page } from '@heliphon/contracts/problem';
import type {
  EditSeries,
  PlanSeries,
  PreviewSeries,
  SeriesPreview,
  SeriesView,
  SeriesWhen,
  SpreadChange,
} from '@heliphon/contracts/series';
import { ChannelEntity } from '../tables/channel.entity.js';
import { setTurns, turnsOf } from '../schedule/event-duties.js';
import { renameAddress, slugOf, takeAddress } from '../events/event-addresses.js';
import { checkPlaces, placesOf } from '../events/event-places.js';
import { settingsOf, USUAL_TEMPLATE } from '../events/event-settings.js';
import { posterUrl } from '../events/event-view.js';
import { EventEntity } from '../tables/event.entity.js';
import { filmLength } from '../files/film-length.js';
import { sheetOf, writeSheet } from '../order/order-sheets.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { AddressEntity, HouseEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { notFound, ProblemError, refusedField } from '../platform/problems.js';
import { type UndoHandler, UndoRegistry } from '../platform/undo-registry.js';
import { checkSource, checkStandby } from '../schedule/followed.js';
import { checkedDates, checkedRule, lookUntil } from './checked-rule.js';
import { bringDates, dayOf, planDates, repetitionOf, seriesPlaces } from './series-dates.js';
import { SeriesDestinationEntity, SeriesEntity, SeriesSkipEntity } from '../tables/series.entity.js';
import { skipDate } from '../events/skip-date.js';
import { nextDates } from './series-view.js';
import { giveBack, type OwnFields, type SeriesChange, spreadOf } from './spread-change.js';

const PREVIEWED = 10;

type SeriesOrigin = Partial<Pick<SeriesEntity, 'importUid' | 'description' | 'zone'>> & {
  /** Days without an event. */
  readonly leftOut?: readonly string[];
};

/** What a series remembers of itself, to be brought back. */
type Remembered = Required<SeriesChange> & Pick<SeriesEntity, 'filmMs'>;

/** With the fields of events that were changed for it alone. */
type Became = Remembered & { readonly ownFields?: OwnFields };
const RULE = { slug: textKey.required(), rule: textKey.required() };
const EDITED = payload(having<Remembered>(RULE), having<Became>(RULE));
const OF_DATE = payload(Joi.any(), having<{ readonly date: string }>({ date: textKey.required() }));

@Injectable()
export class SeriesService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    undo.register('series-planned', 'events.edit', payload(), this.#takeBackPlan);
    undo.register('series-edited', 'events.edit', EDITED, this.#takeBackEdit);
    undo.register('date-skipped', 'events.edit', OF_DATE, (scope, { subjectId, after }, manager) =>
      this.#setSkipped(scope, manager, subjectId, after.date, false),
    );
    undo.register('date-taken-up', 'events.edit', OF_DATE, (scope, { subjectId, after }, manager) =>
      this.#setSkipped(scope, manager, subjectId, after.date, true),
    );
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<SeriesView>> {
    const scope = this.database.house(ctx);
    const { rows, next } = await scope.page(SeriesEntity, { by: 'title' }, wish);
    return { items: await Promise.all(rows.map((row) => this.#view(scope, row))), next };
  }

  async get(ctx: Context, id: string): Promise<SeriesView> {
    const scope = this.database.house(ctx);
    return this.#view(scope, await scope.get(SeriesEntity, id, 'series'));
  }

  /** What a wish would come to, before anything is made. */
  async preview(ctx: Context, wish: PreviewSeries): Promise<SeriesPreview> {
    const scope = this.database.house(ctx);
    const known = wish.seriesId ? await scope.get(SeriesEntity, wish.seriesId, 'series') : null;
    const zone = known?.zone ?? (await this.#zoneOf(ctx));
    const parsed = this.#checked(wish, zone);
    const from = this.#firstDay(wish.firstDate, zone);
    const dates = occurrencesOf({ ...wish, rule: parsed, zone }, from, lookUntil(from), PREVIEWED);
    const { rule: _rule, seriesId: _seriesId, ...when } = wish;
    const changed = { ...(known ?? { id: '', zone }), ...when, rule: parsed.text } as SeriesEntity;
    const plan = await planDates(scope, changed, this.clock.nowMs());
    return {
      parsed,
      dates,
      made: plan.make.length,
      moved: known && whenChanged(known, changed) ? plan.follow.length : 0,
      removed: plan.remove.length,
      left: plan.leave.length,
    };
  }

  /** @param origin - what an entry of a calendar file brings along. */
  async plan(ctx: Context, wish: PlanSeries, origin: SeriesOrigin = {}): Promise<SeriesView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const { leftOut = [], zone = await this.#zoneOf(ctx), ...given } = origin;
      const rule = this.#checked(wish, zone).text;
      await checkSource(scope, wish.sourceId, {});
      if (wish.channelId) await scope.get(ChannelEntity, wish.channelId, 'channel');
      const like = wish.likeEventId && (await scope.get(EventEntity, wish.likeEventId, 'event'));
      const id = newId();
      const target = { houseId: ctx.houseId, kind: 'series', targetId: id } as const;
      const { title, channelId, sourceId, firstDate, timeOfDay, lengthMinutes } = wish;
      const row = await scope.add(SeriesEntity, {
        id,
        title,
        channelId,
        sourceId,
        rule,
        firstDate,
        timeOfDay,
        lengthMinutes,
        zone,
        slug: await takeAddress(manager, slugOf(title), target),
        ...(like ? settingsOf(like) : USUAL_TEMPLATE),
        ...given,
        plannedUntil: '',
      });
      if (like) await setPlaces(scope, id, await placesOf(scope, like.id));
      const order = like && (await sheetOf(scope, like));
      if (order) await writeSheet(scope, { seriesId: id }, order.items);
      for (const date of new Set(leftOut)) await scope.add(SeriesSkipEntity, { seriesId: id, date });
      const eventIds = await bringDates(scope, manager, row, this.clock.nowMs());
      await scope.happened({
        subjectKind: 'series',
        subjectId: id,
        kind: 'series-planned',
        after: { ...wish, eventIds },
      });
      return this.#view(scope, row);
    });
  }

  /** Changes what is given, for all dates that are still to come; what one of them changed by itself stays its own. */
  async edit(ctx: Context, id: string, version: number, change: EditSeries): Promise<SeriesView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const series = await scope.lockVersion(SeriesEntity, id, version, 'series', (row) =>
        this.#view(scope, row),
      );
      await this.#change(scope, manager, series, change);
      return this.#view(scope, series);
    });
  }

  /** Another poster, for all dates that have none of their own. @param posterId - of a picture among the house's files */
  async setPoster(ctx: Context, id: string, posterId: string | null): Promise<SeriesView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const series = await scope.lock(SeriesEntity, { id }, 'series');
      await this.#change(scope, manager, series, { posterId });
      return this.#view(scope, series);
    });
  }

  /** Leaves a day out, or has it after all. */
  async setSkipped(ctx: Context, id: string, date: string, isSkipped: boolean): Promise<SeriesView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const series = await this.#setSkipped(scope, manager, id, date, isSkipped);
      await scope.happened({
        subjectKind: 'series',
        subjectId: id,
        kind: isSkipped ? 'date-skipped' : 'date-taken-up',
        after: { date },
      });
      return this.#view(scope, series);
    });
  }

  /** Brings what one date changed by itself to all dates, or to the later ones; the earlier keep what they have. */
  async spread(ctx: Context, eventId: string, { to }: SpreadChange): Promise<SeriesView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const event = await scope.lock(EventEntity, { id: eventId }, 'event');
      if (!event.seriesId) throw new ProblemError(409, 'nothing-of-its-own');
      const series = await scope.lock(SeriesEntity, { id: event.seriesId }, 'series');
      const { change, ownFields } = await spreadOf(scope, event, to);
      await this.#change(scope, manager, series, change, { ownFields });
      return this.#view(scope, series);
    });
  }

  /** Lets the dates of every series that wants some come into being. */
  async bringDue(scope: HouseScope, manager: EntityManager, id: string): Promise<void> {
    const series = await scope.lock(SeriesEntity, { id }, 'series');
    const eventIds = await bringDates(scope, manager, series, this.clock.nowMs());
    if (eventIds.length > 0)
      await scope.happened({
        subjectKind: 'series',
        subjectId: id,
        kind: 'series-dates-made',
        after: { eventIds },
      });
  }

  async #change(
    scope: HouseScope,
    manager: EntityManager,
    series: SeriesEntity,
    change: SeriesChange,
    more: object = {},
  ): Promise<void> {
    const before = await remembered(scope, series);
    const eventIds = await this.#apply(scope, manager, series, change);
    await scope.happened({
      subjectKind: 'series',
      subjectId: series.id,
      kind: 'series-edited',
      before,
      after: { ...(await remembered(scope, series)), eventIds, ...more },
    });
  }

  /** @returns the events that were touched. */
  async #apply(
    scope: HouseScope,
    manager: EntityManager,
    series: SeriesEntity,
    change: SeriesChange,
  ): Promise<string[]> {
    const { destinationIds, duties, slug, ...plain } = change;
    await checkSource(scope, plain.sourceId, { seriesId: series.id });
    await checkStandby(scope, { ...series, ...plain }, { seriesId: series.id });
    if (plain.channelId) await scope.get(ChannelEntity, plain.channelId, 'channel');
    if (plain.filmId !== undefined) series.filmMs = await filmLength(scope, plain.filmId);
    Object.assign(series, plain);
    const isOther = 'rule' in change || 'firstDate' in change;
    series.rule = (isOther ? this.#checked(series, series.zone) : checkedRule(series.rule)).text;
    if (slug !== undefined && slug !== series.slug) {
      const target = { houseId: series.houseId, kind: 'series', targetId: series.id } as const;
      series.slug = await renameAddress(manager, series.slug, slug, target, this.clock.nowMs());
    }
    if (destinationIds) await setPlaces(scope, series.id, destinationIds);
    if (duties) await setTurns(scope, series.id, duties);
    await scope.save(series);
    return bringDates(scope, manager, series, this.clock.nowMs());
  }

  async #setSkipped(
    scope: HouseScope,
    manager: EntityManager,
    seriesId: string,
    date: string,
    isSkipped: boolean,
  ): Promise<SeriesEntity> {
    const series = await scope.lock(SeriesEntity, { id: seriesId }, 'series');
    const [occurrence] = occurrencesOf(repetitionOf(series), date, date, 1);
    if (!occurrence) throw refusedField('date', 'no-such-date');
    const event = await scope.findOne(EventEntity, { seriesId, seriesDate: date });
    if (isSkipped && event && event.state !== 'planned')
      throw new ProblemError(409, 'not-planned-any-more', { state: event.state });
    // What somebody changed would be lost: deleted by itself, it can be brought back as it was.
    if (isSkipped && event && event.ownFields.length > 0) throw new ProblemError(409, 'date-of-its-own');
    if (isSkipped) {
      await skipDate(scope, seriesId, date);
      if (event) {
        await scope.remove(EventEntity, { id: event.id });
        await manager.delete(AddressEntity, { targetId: event.id });
      }
    } else {
      await scope.remove(SeriesSkipEntity, { seriesId, date });
      await bringDates(scope, manager, series, this.clock.nowMs());
    }
    return series;
  }

  readonly #takeBackPlan: UndoHandler = async (scope, { subjectId }, manager) => {
    const events = await scope.find(EventEntity, { where: { seriesId: subjectId } });
    const begun = events.find(({ state }) => state !== 'planned');
    if (begun) throw new ProblemError(409, 'not-planned-any-more', { state: begun.state });
    await scope.remove(EventEntity, { seriesId: subjectId });
    for (const targetId of [subjectId, ...events.map(({ id }) => id)])
      await manager.delete(AddressEntity, { targetId });
    await scope.remove(SeriesEntity, { id: subjectId });
  };

  readonly #takeBackEdit: UndoHandler<Remembered, Became> = async (
    scope,
    { subjectId, before, after },
    manager,
  ) => {
    const series = await scope.lock(SeriesEntity, { id: subjectId }, 'series');
    const now = await remembered(scope, series);
    const [was, became] = [before, after];
    const fields = (Object.keys(was) as (keyof Remembered)[]).filter(
      (field) => !isDeepStrictEqual(was[field], became[field]),
    );
    if (fields.some((field) => !isDeepStrictEqual(became[field], now[field])))
      throw new ProblemError(409, 'changed-since');
    await giveBack(scope, after.ownFields ?? {});
    const change = Object.fromEntries(fields.map((field) => [field, was[field]])) as SeriesChange;
    await this.#apply(scope, manager, series, change);
  };

  #checked(when: SeriesWhen, zone: string): Rule {
    return checkedDates(when, zone, dayOf(this.clock.nowMs(), zone));
  }

  /** From where on dates are still to come. */
  #firstDay(firstDate: string, zone: string): string {
    const today = dayOf(this.clock.nowMs(), zone);
    return firstDate > today ? firstDate : today;
  }

  async #zoneOf(ctx: Context): Promise<string> {
    const house = await this.database.installation.findOneBy(HouseEntity, { id: ctx.houseId });
    if (!house) throw notFound('house');
    return house.zone;
  }

  async #view(scope: HouseScope, series: SeriesEntity): Promise<SeriesView> {
    const from = this.#firstDay(series.firstDate, series.zone);
    const { posterId, filmMs: _filmMs, ...shown } = await remembered(scope, series);
    return {
      id: series.id,
      version: series.version,
      zone: series.zone,
      posterUrl: posterUrl(posterId),
      ...shown,
      parsed: repetitionOf(series).rule,
      dates: await nextDates(scope, series, from, lookUntil(from)),
    };
  }
}

const whenChanged = (a: SeriesEntity, b: SeriesEntity): boolean =>
  a.timeOfDay !== b.timeOfDay || a.lengthMinutes !== b.lengthMinutes;

async function remembered(scope: HouseScope, series: SeriesEntity): Promise<Remembered> {
  const { slug, title, channelId, sourceId, rule, firstDate, timeOfDay, lengthMinutes } = series;
  const destinationIds = await seriesPlaces(scope, series.id);
  return {
    slug,
    title,
    channelId,
    sourceId,
    rule,
    firstDate,
    timeOfDay,
    lengthMinutes,
    ...settingsOf(series),
    destinationIds,
    duties: await turnsOf(scope, series.id),
  };
}

async function setPlaces(scope: HouseScope, seriesId: string, wanted: readonly string[]): Promise<void> {
  await checkPlaces(scope, wanted);
  await scope.remove(SeriesDestinationEntity, { seriesId });
  for (const destinationId of wanted) await scope.add(SeriesDestinationEntity, { seriesId, destinationId });
}
