import Joi from 'joi';
import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { type EntityManager, In, IsNull } from 'typeorm';
import {
  type AddChannel,
  CHANNEL_LIMITS,
  type ChannelView,
  type EditChannel,
} from '@heliphon/contracts/channels';
import type { Page } from '@heliphon/contracts/problem';
import { CalendarEntity } from '../tables/calendar.entity.js';
import { renameAddress, slugOf, takeAddress } from '../events/event-addresses.js';
import { EventEntity } from '../tables/event.entity.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { AddressEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { type UndoHandler, UndoRegistry } from '../platform/undo-registry.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { ChannelEntity } from '../tables/channel.entity.js';

/** What stood in a channel that was deleted. */
interface DeletedChannel {
  readonly channel: ChannelEntity;
  readonly eventIds: readonly string[];
  readonly seriesIds: readonly string[];
}

const NAMED = { name: textKey.required(), slug: textKey.required(), description: textKey.required() };
const EDITED = payload(having<ChannelView>(NAMED), having<ChannelView>(NAMED));
const IDS = Joi.array().items(idKey).required();
const DELETED = payload(
  having<DeletedChannel>({
    channel: having<ChannelEntity>({ id: idKey.required(), ...NAMED }),
    eventIds: IDS,
    seriesIds: IDS,
  }),
);

/** The parts of a house that have pages of their own. */
@Injectable()
export class ChannelsService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    undo.register('channel-added', 'events.edit', payload(), (scope, { subjectId }, manager) =>
      this.#remove(scope, manager, subjectId),
    );
    undo.register('channel-edited', 'events.edit', EDITED, this.#takeBackEdit);
    undo.register('channel-deleted', 'events.edit', DELETED, this.#bringBack);
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<ChannelView>> {
    const { rows, next } = await this.database.house(ctx).page(ChannelEntity, { by: 'name' }, wish);
    return { items: rows.map(view), next };
  }

  /** @throws ProblemError 409 where the house has as many as it may */
  async add(ctx: Context, { name, description }: AddChannel): Promise<ChannelView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const { most } = CHANNEL_LIMITS;
      if ((await scope.find(ChannelEntity, { select: { id: true } })).length >= most)
        throw new ProblemError(409, 'too-many-channels', { most });
      const id = newId();
      const target = { houseId: ctx.houseId, kind: 'channel', targetId: id } as const;
      const slug = await takeAddress(manager, slugOf(name), target);
      const row = await scope.add(ChannelEntity, { id, name, description, slug });
      await scope.happened({
        subjectKind: 'channel',
        subjectId: id,
        kind: 'channel-added',
        after: view(row),
      });
      return view(row);
    });
  }

  async edit(ctx: Context, id: string, version: number, change: EditChannel): Promise<ChannelView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const row = await scope.lockVersion(ChannelEntity, id, version, 'channel', view);
      const before = view(row);
      const after = await this.#apply(scope, manager, row, change);
      await scope.happened({ subjectKind: 'channel', subjectId: id, kind: 'channel-edited', before, after });
      return after;
    });
  }

  /** Its events stay, in no channel; taken back, they stand in it again. */
  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      const before = await this.#remove(scope, manager, id);
      await scope.happened({ subjectKind: 'channel', subjectId: id, kind: 'channel-deleted', before });
    });
  }

  async #apply(
    scope: HouseScope,
    manager: EntityManager,
    row: ChannelEntity,
    { slug, ...plain }: EditChannel,
  ): Promise<ChannelView> {
    Object.assign(row, plain);
    if (slug !== undefined && slug !== row.slug) {
      const target = { houseId: row.houseId, kind: 'channel', targetId: row.id } as const;
      row.slug = await renameAddress(manager, row.slug, slug, target, this.clock.nowMs());
    }
    return view(await scope.save(row));
  }

  async #remove(scope: HouseScope, manager: EntityManager, id: string): Promise<DeletedChannel> {
    const channel = await scope.lock(ChannelEntity, { id }, 'channel');
    const running = await scope.findOne(EventEntity, { channelId: id, state: In(['doors', 'air']) });
    if (running) throw new ProblemError(409, 'channel-on-air', { title: running.title });
    const inside = { select: { id: true }, where: { channelId: id } } as const;
    const eventIds = (await scope.find(EventEntity, inside)).map((row) => row.id);
    const seriesIds = (await scope.find(SeriesEntity, inside)).map((row) => row.id);
    const { houseId } = channel;
    for (const entity of [EventEntity, SeriesEntity])
      await manager.update(entity, { houseId, channelId: id }, { channelId: null });
    await manager.delete(CalendarEntity, { houseId, about: id });
    await manager.update(AddressEntity, { targetId: id }, { retiredAtMs: this.clock.nowMs() });
    await scope.remove(ChannelEntity, { id });
    return { channel, eventIds, seriesIds };
  }

  /** Whatever has found another channel since keeps that. */
  readonly #bringBack: UndoHandler<DeletedChannel> = async (scope, { subjectId, before }, manager) => {
    const { channel, eventIds, seriesIds } = before;
    await scope.add(ChannelEntity, channel);
    const { houseId } = scope.ctx;
    for (const [entity, ids] of [
      [EventEntity, eventIds],
      [SeriesEntity, seriesIds],
    ] as const)
      await manager.update(
        entity,
        { houseId, id: In([...ids]), channelId: IsNull() },
        { channelId: subjectId },
      );
    await manager.update(AddressEntity, { targetId: subjectId }, { retiredAtMs: null });
  };

  readonly #takeBackEdit: UndoHandler<ChannelView, ChannelView> = async (
    scope,
    { subjectId, before, after },
    manager,
  ) => {
    const row = await scope.lock(ChannelEntity, { id: subjectId }, 'channel');
    if (view(row).version !== after.version) throw new ProblemError(409, 'changed-since');
    const { name, description, slug } = before;
    await this.#apply(scope, manager, row, { name, description, slug });
  };
}

const view = ({ id, version, name, slug, description }: ChannelEntity): ChannelView => ({
  id,
  version,
  name,
  slug,
  description,
});
