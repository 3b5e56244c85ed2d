import { Injectable } from '@nestjs/common';
import {
  DataSource,
  type DeepPartial,
  type EntityManager,
  type EntityTarget,
  type FindManyOptions,
  type FindOptionsWhere,
  type ObjectLiteral,
} from 'typeorm';
import type { Role } from '@heliphon/core/access/capabilities';
import { Clock } from './clock.js';
import { HappeningEntity } from './entities.js';
import { HappeningFeed } from './happening-feed.js';
import { notFound, ProblemError } from './problems.js';

/** Who acts, and in which house. `by` is a person's id, or `clock`, `node`, `system`. */
export interface Context {
  readonly houseId: string;
  readonly by: string;
  readonly byName: string;
  readonly roles: readonly Role[];
}

/** A row that belongs to a house. */
interface OfHouse extends ObjectLiteral {
  houseId: string;
}

export interface Happening {
  readonly subjectKind: 'event' | 'source' | 'destination' | 'recording' | 'chat';
  readonly subjectId: string;
  readonly kind: string;
  readonly before?: unknown;
  readonly after?: unknown;
}

/** The only way of services to data: every read and write is held to one house, and every change is told. */
export class HouseScope {
  readonly told: HappeningEntity[] = [];

  constructor(
    readonly ctx: Context,
    private readonly manager: EntityManager,
    private readonly nowMs: number,
  ) {}

  find<T extends OfHouse>(entity: EntityTarget<T>, options: FindManyOptions<T> = {}): Promise<T[]> {
    return this.manager.find(entity, { ...options, where: this.#within(options.where) });
  }

  async findOne<T extends OfHouse>(entity: EntityTarget<T>, where: FindOptionsWhere<T>): Promise<T | null> {
    return this.manager.findOne(entity, { where: this.#within(where) });
  }

  /** @throws ProblemError 404, also for a row of another house. */
  async get<T extends OfHouse>(entity: EntityTarget<T>, id: string, what: string): Promise<T> {
    const row = await this.findOne(entity, { id } as unknown as FindOptionsWhere<T>);
    if (!row) throw notFound(what);
    return row;
  }

  /** As `get`, with the row locked until the transaction ends. */
  async lock<T extends OfHouse>(
    entity: EntityTarget<T>,
    where: FindOptionsWhere<T>,
    what: string,
  ): Promise<T> {
    const row = await this.manager.findOne(entity, {
      where: this.#within(where),
      lock: { mode: 'pessimistic_write' },
    });
    if (!row) throw notFound(what);
    return row;
  }

  /** As `lock`, for an edit: the caller has to know the row's present version. */
  async lockVersion<T extends OfHouse & { version: number }>(
    entity: EntityTarget<T>,
    id: string,
    version: number,
    what: string,
  ): Promise<T> {
    const row = await this.lock(entity, { id } as unknown as FindOptionsWhere<T>, what);
    if (row.version !== version) throw new ProblemError(412, 'changed-meanwhile', { version: row.version });
    return row;
  }

  add<T extends OfHouse>(entity: EntityTarget<T>, row: Omit<DeepPartial<T>, 'houseId'>): Promise<T> {
    const whole = this.manager.create(entity, {
      ...row,
      houseId: this.ctx.houseId,
    } as unknown as DeepPartial<T>);
    return this.manager.save(whole);
  }

  async save<T extends OfHouse>(row: T): Promise<T> {
    if (row.houseId !== this.ctx.houseId) throw new Error('A row of another house');
    return this.manager.save(row);
  }

  async remove<T extends OfHouse>(entity: EntityTarget<T>, where: FindOptionsWhere<T>): Promise<void> {
    await this.manager.delete(entity, this.#within(where));
  }

  /** Writes down what happened, in the same transaction; it is told to others after the commit. */
  async happened(happening: Happening): Promise<HappeningEntity> {
    const row = await this.manager.save(
      this.manager.create(HappeningEntity, {
        houseId: this.ctx.houseId,
        by: this.ctx.by,
        atMs: this.nowMs,
        before: null,
        after: null,
        ...happening,
      }),
    );
    this.told.push(row);
    return row;
  }

  #within<T extends OfHouse>(where?: FindOptionsWhere<T> | FindOptionsWhere<T>[]): FindOptionsWhere<T> {
    if (Array.isArray(where)) throw new Error('Alternatives are not held to a house');
    return { ...where, houseId: this.ctx.houseId } as unknown as FindOptionsWhere<T>;
  }
}

/** Hands out data by house, and, to what serves the whole installation, without. */
@Injectable()
export class Database {
  constructor(
    private readonly dataSource: DataSource,
    private readonly clock: Clock,
    private readonly feed: HappeningFeed,
  ) {}

  /** For reading. */
  house(ctx: Context): HouseScope {
    return new HouseScope(ctx, this.dataSource.manager, this.clock.nowMs());
  }

  /** One transaction in one house; what happened in it is told once it has been committed. */
  async transaction<T>(ctx: Context, work: (scope: HouseScope) => Promise<T>): Promise<T> {
    return this.inHouse(ctx, (scope) => work(scope));
  }

  /** As `transaction`, with the installation's own tables within reach: addresses, journals, commands. */
  async inHouse<T>(
    ctx: Context,
    work: (scope: HouseScope, manager: EntityManager) => Promise<T>,
  ): Promise<T> {
    let told: readonly HappeningEntity[] = [];
    const result = await this.dataSource.transaction(async (manager) => {
      const scope = new HouseScope(ctx, manager, this.clock.nowMs());
      const value = await work(scope, manager);
      told = scope.told;
      return value;
    });
    for (const happening of told) this.feed.tell(happening);
    return result;
  }

  /** The whole installation: sign-in, the clock, the control link, public addresses. Never for a person's request. */
  get installation(): EntityManager {
    return this.dataSource.manager;
  }
}

/** The installation itself acting in a house. */
export const systemContext = (houseId: string, by: 'clock' | 'node' | 'system'): Context => ({
  houseId,
  by,
  byName: by,
  roles: [],
});
