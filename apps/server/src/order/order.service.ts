import { createHash } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import Joi from 'joi';
import { having, payload } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import type { OrderItem } from '@heliphon/core/order/order-sheet';
import type { MoveOrder, OrderView, PublicOrder, WriteOrder } from '@heliphon/contracts/order';
import { EventEntity } from '../tables/event.entity.js';
import { Clock } from '../platform/clock.js';
import {
  type Context,
  Database,
  type Happening,
  type HouseScope,
  systemContext,
} from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type UndoHandler, UndoRegistry } from '../platform/undo-registry.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { OrderMarkEntity, OrderSheetEntity } from '../tables/order.entity.js';
import { NoteEntity } from '../tables/note.entity.js';
import { type SheetOf, sheetOf, writeSheet } from './order-sheets.js';

/** More chapters than these nobody looks through. */
const MOST_CHAPTERS = 200;

/** What was written of an own sheet, to be taken back; `null`: there was none. */
interface Written {
  readonly items: readonly OrderItem[] | null;
}

const ITEMS = having<Written>({ items: Joi.array().allow(null).required() });
const WRITTEN = payload(ITEMS, ITEMS);

/** The order of a service or meeting: written for an event or a series, and moved on by the desk. */
@Injectable()
export class OrderService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    undo.register('order-written', 'events.edit', WRITTEN, this.#takeBack);
  }

  async ofEvent(ctx: Context, id: string): Promise<OrderView> {
    const scope = this.database.house(ctx);
    return this.#view(scope, await scope.get(EventEntity, id, 'event'));
  }

  async ofSeries(ctx: Context, id: string): Promise<OrderView> {
    const scope = this.database.house(ctx);
    await scope.get(SeriesEntity, id, 'series');
    const sheet = await scope.findOne(OrderSheetEntity, { seriesId: id });
    return { version: sheet?.version ?? 0, items: sheet?.items ?? [], isOfSeries: false, marks: [] };
  }

  async writeForEvent(ctx: Context, id: string, version: number, { items }: WriteOrder): Promise<OrderView> {
    await this.#write(ctx, { eventId: id }, version, items);
    return this.ofEvent(ctx, id);
  }

  async writeForSeries(ctx: Context, id: string, version: number, { items }: WriteOrder): Promise<OrderView> {
    await this.#write(ctx, { seriesId: id }, version, items);
    return this.ofSeries(ctx, id);
  }

  /** Lets go of an event's own sheet: it shows its series' again, or none. */
  async remove(ctx: Context, id: string): Promise<OrderView> {
    await this.#write(ctx, { eventId: id }, null, null);
    return this.ofEvent(ctx, id);
  }

  /** The desk moves the sheet on. @throws ProblemError 409 while nothing is on air */
  async move(ctx: Context, id: string, { itemId }: MoveOrder): Promise<OrderView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      if (event.state !== 'air' && event.state !== 'doors')
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'move-order' });
      const sheet = await sheetOf(scope, event);
      const item = sheet?.items.find((one) => one.id === itemId);
      if (itemId !== null && !item) throw refusedField('itemId', 'no-such-item');
      await scope.add(OrderMarkEntity, { id: newId(), eventId: id, atMs: this.clock.nowMs(), itemId });
      await scope.happened({
        ...subjectOf({ eventId: id }),
        kind: 'order-moved',
        after: { item: item?.title ?? null },
      });
      return this.#view(scope, event);
    });
  }

  /** What viewers get; and which state of it, so that they ask only when it has changed. */
  async ofPublic(event: EventEntity): Promise<PublicOrder & { readonly seq: string }> {
    const scope = this.database.house(systemContext(event.houseId, 'system'));
    const { items, marks, sheet } = await this.#read(scope, event);
    const notes = await scope.find(NoteEntity, {
      where: { eventId: event.id, isChapter: true },
      order: { atMs: 'ASC' },
      take: MOST_CHAPTERS,
    });
    const chapters = notes.map(({ atMs, text: title }) => ({ atMs, title }));
    const seq = [
      sheet ? `${sheet.id.slice(-12)}-${sheet.version}-${marks.length}` : '',
      ...notes.map(({ id, version }) => `${id.slice(-6)}${version}`),
    ].join('-');
    return {
      items,
      marks,
      chapters,
      seq: createHash('sha256')
        .update(seq)
        .digest('hex')
        .slice(0, seq ? 16 : 0),
    };
  }

  async #read(scope: HouseScope, event: EventEntity) {
    const sheet = await sheetOf(scope, event);
    const rows = await scope.find(OrderMarkEntity, { where: { eventId: event.id }, order: { atMs: 'ASC' } });
    const marks = rows.map(({ atMs, itemId }) => ({ atMs, itemId }));
    return { sheet, items: sheet?.items ?? [], marks };
  }

  async #view(scope: HouseScope, event: EventEntity): Promise<OrderView> {
    const { sheet, items, marks } = await this.#read(scope, event);
    const isOfSeries = sheet !== null && sheet.seriesId !== null;
    return { version: isOfSeries ? 0 : (sheet?.version ?? 0), items, isOfSeries, marks };
  }

  async #write(
    ctx: Context,
    of: SheetOf,
    version: number | null,
    items: readonly OrderItem[] | null,
  ): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      if ('eventId' in of) await scope.lock(EventEntity, { id: of.eventId }, 'event');
      else await scope.lock(SeriesEntity, { id: of.seriesId }, 'series');
      const row = await scope.findOne(OrderSheetEntity, of);
      if (version !== null && (row?.version ?? 0) !== version)
        throw new ProblemError(
          412,
          'changed-meanwhile',
          { version: row?.version ?? 0 },
          { current: row?.items ?? [] },
        );
      const before: Written = { items: row?.items ?? null };
      await set(scope, of, items);
      await scope.happened({ ...subjectOf(of), kind: 'order-written', before, after: { items } });
    });
  }

  readonly #takeBack: UndoHandler<Written, Written> = async (
    scope,
    { subjectKind, subjectId, before, after },
  ) => {
    const of = subjectKind === 'series' ? { seriesId: subjectId } : { eventId: subjectId };
    const row = await scope.findOne(OrderSheetEntity, of);
    if (!isDeepStrictEqual(row?.items ?? null, after.items)) throw new ProblemError(409, 'changed-since');
    await set(scope, of, before.items);
  };
}

async function set(scope: HouseScope, of: SheetOf, items: readonly OrderItem[] | null): Promise<void> {
  if (items === null) await scope.remove(OrderSheetEntity, of);
  else await writeSheet(scope, of, items);
}

const subjectOf = (of: SheetOf): Pick<Happening, 'subjectKind' | 'subjectId'> =>
  'eventId' in of
    ? { subjectKind: 'event', subjectId: of.eventId }
    : { subjectKind: 'series', subjectId: of.seriesId };
