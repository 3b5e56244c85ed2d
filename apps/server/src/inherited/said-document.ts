import type { EntityManager } from 'typeorm';
import type { HappeningKind } from '@heliphon/contracts/happenings';
import { LEVELS, type Level } from '@heliphon/core/inherited';
import type Joi from 'joi';
import type { HouseScope } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { having, payload } from '../platform/happening-payloads.js';
import { notFound } from '../platform/problems.js';
import type { UndoRegistry } from '../platform/undo-registry.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { type Levels, levelsOfChannel, levelsOfEvent, levelsOfSeries, type Saying } from './levels-of.js';

export type LevelRow = HouseEntity | ChannelEntity | SeriesEntity | EventEntity;
const ENTITIES = { channel: ChannelEntity, series: SeriesEntity, event: EventEntity } as const;

interface DocumentKinds {
  readonly house: HappeningKind;
  readonly below: HappeningKind;
}

/** A document that a house, its channels, series and events each may have: read, set at a version, and taken back. */
export class SaidDocument<K extends keyof Saying> {
  constructor(
    private readonly key: K,
    private readonly kinds: DocumentKinds,
    schema: Joi.ObjectSchema<NonNullable<Saying[K]>>,
    undo: UndoRegistry,
    /** Hears of every change, in its transaction. */
    private readonly changed?: (scope: HouseScope, manager: EntityManager) => Promise<unknown>,
  ) {
    const said = payload(having<Record<K, Saying[K]>>({ [key]: schema.allow(null).required() } as never));
    for (const [kind, needs] of [
      [kinds.house, 'house.edit'],
      [kinds.below, 'events.edit'],
    ] as const)
      undo.register(kind, needs, said, async (scope, { subjectKind, subjectId, before }, manager) => {
        const row = await this.#lock(scope, subjectKind as Level, subjectId);
        await this.#write(scope, manager, row, before[key]);
      });
  }

  /** @throws ProblemError 412 where it has changed meanwhile */
  async set(
    scope: HouseScope,
    manager: EntityManager,
    { level, id, version }: { readonly level: Level; readonly id: string; readonly version: number },
    own: NonNullable<Saying[K]>,
    viewOf: (row: LevelRow) => unknown,
  ): Promise<LevelRow> {
    const row = await this.#lockVersion(scope, level, id, version, viewOf);
    const before = { [this.key]: row[this.key] };
    const saved = await this.#write(scope, manager, row, { ...own });
    const kind = level === 'house' ? this.kinds.house : this.kinds.below;
    await scope.happened({ subjectKind: level, subjectId: id, kind, before, after: { [this.key]: own } });
    return saved;
  }

  #lock(scope: HouseScope, level: Level, id: string): Promise<LevelRow> {
    return level === 'house'
      ? scope.lockHouse()
      : scope.lock<Exclude<LevelRow, HouseEntity>>(ENTITIES[level], { id }, level);
  }

  #lockVersion(
    scope: HouseScope,
    level: Level,
    id: string,
    version: number,
    viewOf: (row: LevelRow) => unknown,
  ): Promise<LevelRow> {
    if (level !== 'house')
      return scope.lockVersion<Exclude<LevelRow, HouseEntity>>(ENTITIES[level], id, version, level, viewOf);
    if (id !== scope.ctx.houseId) throw notFound('house');
    return scope.lockOwnHouse(version, viewOf);
  }

  /** The house is no row of a house, and is saved by the installation's own hand. */
  async #write(scope: HouseScope, manager: EntityManager, row: LevelRow, own: Saying[K]): Promise<LevelRow> {
    const saved = await manager.save(Object.assign(row, { [this.key]: own }));
    await this.changed?.(scope, manager);
    return saved;
  }
}

/** @throws ProblemError 404, also for the house of somebody else */
export async function readLevel(scope: HouseScope, level: Level, id: string): Promise<LevelRow> {
  if (level !== 'house') return scope.get<Exclude<LevelRow, HouseEntity>>(ENTITIES[level], id, level);
  if (id !== scope.ctx.houseId) throw notFound('house');
  return scope.ownHouse();
}

/** What a row is called, and what it inherits from with itself. */
export async function placed(
  scope: HouseScope,
  row: LevelRow,
): Promise<{ name: string; levels: Levels; level: Level }> {
  if (row instanceof HouseEntity)
    return { name: row.name, level: 'house', levels: await levelsOfChannel(scope, null) };
  if (row instanceof ChannelEntity)
    return { name: row.name, level: 'channel', levels: await levelsOfChannel(scope, row) };
  if (row instanceof SeriesEntity)
    return { name: row.title, level: 'series', levels: await levelsOfSeries(scope, row) };
  return { name: row.title, level: 'event', levels: await levelsOfEvent(scope, row) };
}

/** Levels that stand above a row. */
export const above = (levels: Levels, level: Level): Levels =>
  levels.filter((one) => LEVELS.indexOf(one.level) < LEVELS.indexOf(level));
