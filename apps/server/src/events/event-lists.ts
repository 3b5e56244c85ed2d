import { Injectable } from '@nestjs/common';
import {
  And,
  Between,
  type FindOperator,
  type FindOptionsWhere,
  In,
  IsNull,
  Like,
  MoreThan,
  Raw,
} from 'typeorm';
import type { EventFilter, EventGlance, EventView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { LONGEST_MS } from './event-settings.js';
import { EventEntity } from '../tables/event.entity.js';
import { EventViews } from './event-views.js';

/** Which of them, from what time, in what order. */
export type EventList = EventFilter & {
  readonly fromMs: number;
  readonly toMs: number;
  readonly descending: boolean;
};

/** So many are named to the database one by one. */
const FEW = 500;

/** Lists of events: of a time, searched and filtered. Rehearsals are in none of them. */
@Injectable()
export class EventLists {
  constructor(
    private readonly database: Database,
    private readonly views: EventViews,
  ) {}

  /** Events that run between two instants, by their start. */
  async list(
    ctx: Context,
    { fromMs, toMs, descending, ...filter }: EventList,
    wish: PageWish,
  ): Promise<Page<EventView>> {
    const scope = this.database.house(ctx);
    const where = { ...between(fromMs, toMs), ...(await filtered(scope, filter)) };
    const { rows, next } = await scope.page(EventEntity, { by: 'startsAtMs', descending, where }, wish);
    return { items: await this.views.all(scope, rows), next };
  }

  /** The same in few words, for a glance at a month. */
  async glance(
    ctx: Context,
    { fromMs, toMs, descending: _descending, ...filter }: EventList,
    wish: PageWish,
  ): Promise<Page<EventGlance>> {
    const scope = this.database.house(ctx);
    const where = { ...between(fromMs, toMs), ...(await filtered(scope, filter)) };
    const select = { id: true, title: true, startsAtMs: true, state: true, isDraft: true };
    const { rows, next } = await scope.page(EventEntity, { by: 'startsAtMs', where, select }, wish);
    return {
      items: rows.map(({ id, title, startsAtMs, state, isDraft }) => ({
        id,
        title,
        startsAtMs,
        state,
        isDraft,
      })),
      next,
    };
  }
}

const between = (fromMs: number, toMs: number): FindOptionsWhere<EventEntity> => ({
  startsAtMs: Between(fromMs - LONGEST_MS, toMs - 1),
  stopsAtMs: MoreThan(fromMs),
  rehearsalOf: IsNull(),
});

async function filtered(scope: HouseScope, filter: EventFilter): Promise<FindOptionsWhere<EventEntity>> {
  const { houseId } = scope.ctx;
  const { q, channelId, sourceId, destinationId, personId, state } = filter;
  const among = (table: string, column: string, id: string) =>
    Raw(
      (field) =>
        `${field} IN (SELECT event_id FROM ${table} WHERE house_id = :houseId AND ${column} = :${column})`,
      {
        houseId,
        [column]: id,
      },
    );
  const byTitle = q ? await titled(scope, q) : {};
  const ids = [
    ...(destinationId ? [among('event_destinations', 'destination_id', destinationId)] : []),
    ...(personId ? [among('event_duties', 'person_id', personId)] : []),
  ];
  return {
    ...(channelId ? { channelId } : {}),
    ...(sourceId ? { sourceId } : {}),
    ...(state === 'draft' ? { isDraft: true } : state ? { state, isDraft: false } : {}),
    ...byTitle,
    ...(ids.length > 0
      ? { id: And(...ids, ...(byTitle.id ? [byTitle.id as FindOperator<string>] : [])) }
      : {}),
  };
}

const titleLike = (q: string) => Like(`%${q.replace(/[\\%_]/g, '\\$&')}%`);

/** By part of the title: where few have it, they are read off the index of titles first, and no whole events for it. */
async function titled(scope: HouseScope, q: string): Promise<FindOptionsWhere<EventEntity>> {
  const title = titleLike(q);
  const few = await scope.find(EventEntity, { select: { id: true }, where: { title }, take: FEW });
  return few.length < FEW ? { id: In(few.map(({ id }) => id)) } : { title };
}
