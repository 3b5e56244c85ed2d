import { versionOf } from './happening-payloads.js';
import type { HappeningKind, SubjectKind } from '@heliphon/contracts/happenings';
import { Injectable } from '@nestjs/common';
import {
  DataSource,
  type DeepPartial,
  type EntityManager,
  type EntityTarget,
  type FindManyOptions,
  type FindOptionsSelect,
  type FindOptionsWhere,
  type ObjectLiteral,
  type QueryDeepPartialEntity,
  QueryFailedError,
} from 'typeorm';
import { can, type Capability, type Role } from '@heliphon/core/access/capabilities';
import { Clock } from './clock.js';
import { HappeningEntity, HouseEntity } from './entities.js';
import { HAPPENED } from './happened.js';
import { FanOut } from './shared/fan-out.js';
import { notFound, ProblemError, refusedField } from './problems.js';

/** Who acts, and in which house. `by` is a person's id, or `clock`, `node`, `system`. */
export interface Context {
  readonly houseId: string;
  readonly by: string;
  readonly byName: string;
  readonly roles: readonly Role[];
  /** What a token may do at most; `null`: whatever the roles allow. */
  readonly scopes: readonly Capability[] | null;
}

/** True when the person who acts carries a capability: by role, and by token where there is one. */
export const mayDo = (
  { roles, scopes }: Pick<Context, 'roles' | 'scopes'>,
  capability: Capability,
): boolean => can(roles, capability) && (scopes === null || scopes.includes(capability));

/** A row that belongs to a house. */
interface OfHouse extends ObjectLiteral {
  houseId: string;
}

export interface Happening {
  readonly subjectKind: SubjectKind;
  readonly subjectId: string;
  readonly kind: HappeningKind;
  readonly before?: unknown;
  readonly after?: unknown;
}

/** How a list is ordered, and what of it is wanted. */
export interface PageOrder<T> {
  readonly by: keyof T & string;
  readonly descending?: boolean;
  readonly where?: FindOptionsWhere<T>;
  /** Of each row only this; what orders it, and its id, have to be among it. */
  readonly select?: FindOptionsSelect<T>;
}

/** Which page: `after` is the cursor that the page before gave. */
export interface PageWish {
  readonly after: string | null;
  readonly limit: number;
}

/** So many rows go into one statement. */
const AT_ONCE = 500;

const writeCursor = (value: string, id: string): string =>
  Buffer.from(JSON.stringify([value, id])).toString('base64url');

function readCursor(cursor: string): [string, string] {
  try {
    const [value, id] = JSON.parse(Buffer.from(cursor, 'base64url').toString()) as unknown[];
    if (typeof value === 'string' && typeof id === 'string') return [value, id];
  } catch {
    // said below
  }
  throw refusedField('after', 'not-a-cursor');
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

  count<T extends OfHouse>(entity: EntityTarget<T>, where: FindOptionsWhere<T>): Promise<number> {
    return this.manager.count(entity, { where: this.#within(where) });
  }

  /** The house itself. */
  ownHouse(): Promise<HouseEntity> {
    return this.manager.findOneByOrFail(HouseEntity, { id: this.ctx.houseId });
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
    viewOf: (row: T) => unknown,
  ): Promise<T> {
    const row = await this.lock(entity, { id } as unknown as FindOptionsWhere<T>, what);
    return atVersion(row, version, viewOf);
  }

  /** As `lockVersion`, for the house itself. */
  async lockOwnHouse(version: number, viewOf: (row: HouseEntity) => unknown): Promise<HouseEntity> {
    return atVersion(await this.lockHouse(), version, viewOf);
  }

  /** The house itself, locked until the transaction ends. */
  lockHouse(): Promise<HouseEntity> {
    return this.manager.findOneOrFail(HouseEntity, {
      where: { id: this.ctx.houseId },
      lock: { mode: 'pessimistic_write' },
    });
  }

  /**
   * One page of a list that is ordered by a column and then by id, so that equal values at a page's edge hide nothing.
   * @throws ProblemError 422 for a cursor that is none of ours.
   */
  async page<T extends OfHouse & { id: string }>(
    entity: EntityTarget<T>,
    { by, descending = false, where = {}, select }: PageOrder<T>,
    { after, limit }: PageWish,
  ): Promise<{ rows: T[]; next: string | null }> {
    const direction = descending ? 'DESC' : 'ASC';
    const query = this.manager
      .createQueryBuilder(entity, 'row')
      .setFindOptions({ where: this.#within(where), ...(select ? { select } : {}) })
      .orderBy(`row.${by}`, direction)
      .addOrderBy('row.id', direction)
      .take(limit + 1);
    if (after !== null) {
      const [value, id] = readCursor(after);
      const isMore = descending ? '<' : '>';
      query.andWhere(`(row.${by} ${isMore} :value OR (row.${by} = :value AND row.id ${isMore} :id))`, {
        value: by.endsWith('Ms') ? new Date(Number(value)) : value,
        id,
      });
    }
    const rows = await query.getMany();
    const page = rows.slice(0, limit);
    const last = page.at(-1);
    const isMoreThere = rows.length > limit && last !== undefined;
    return { rows: page, next: isMoreThere ? writeCursor(String(last[by]), last.id) : null };
  }

  /** Adds a row, and never writes over one: an id that is taken already is an error. */
  async add<T extends OfHouse>(entity: EntityTarget<T>, row: Omit<DeepPartial<T>, 'houseId'>): Promise<T> {
    const whole = this.manager.create(entity, {
      ...row,
      houseId: this.ctx.houseId,
    } as unknown as DeepPartial<T>);
    const insert = this.manager.createQueryBuilder().insert().into(entity).updateEntity(false);
    await insert.values(whole as QueryDeepPartialEntity<T>).execute();
    const { primaryColumns } = this.manager.connection.getMetadata(entity);
    const key = primaryColumns.map((column) => [column.propertyName, column.getEntityValue(whole)] as const);
    // As the database has it, with what it put in by itself.
    return this.manager.findOneOrFail(entity, { where: Object.fromEntries(key) as FindOptionsWhere<T> });
  }

  /** As `add`, for many at once; they are not read again. */
  async addAll<T extends OfHouse>(
    entity: EntityTarget<T>,
    rows: readonly Omit<DeepPartial<T>, 'houseId'>[],
  ): Promise<void> {
    for (let from = 0; from < rows.length; from += AT_ONCE) {
      const whole = rows.slice(from, from + AT_ONCE).map((row) => ({ ...row, houseId: this.ctx.houseId }));
      const insert = this.manager.createQueryBuilder().insert().into(entity).updateEntity(false);
      await insert.values(whole as unknown as QueryDeepPartialEntity<T>[]).execute();
    }
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
        undoneBy: null,
        version: versionOf(happening.kind),
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

async function atVersion<T extends { readonly version: number }>(
  row: T,
  version: number,
  viewOf: (row: T) => unknown,
): Promise<T> {
  if (row.version === version) return row;
  throw new ProblemError(412, 'changed-meanwhile', { version: row.version }, { current: await viewOf(row) });
}

/** Of two transactions that wait for each other the database undoes one, which may simply begin again (MariaDB, error 1213). */
const DEADLOCK_ERRNO = 1213;
const DEADLOCK_TRIES = 5;
const isDeadlock = (error: unknown): boolean =>
  error instanceof QueryFailedError && (error.driverError as { errno?: number }).errno === DEADLOCK_ERRNO;

/** Hands out data by house, and, to what serves the whole installation, without. */
@Injectable()
export class Database {
  constructor(
    private readonly dataSource: DataSource,
    private readonly clock: Clock,
    private readonly fanOut: FanOut,
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
    for (let triesLeft = DEADLOCK_TRIES - 1; ; triesLeft -= 1) {
      try {
        return await this.#once(ctx, work);
      } catch (error) {
        if (triesLeft === 0 || !isDeadlock(error)) throw error;
      }
    }
  }

  async #once<T>(ctx: Context, work: (scope: HouseScope, manager: EntityManager) => Promise<T>): Promise<T> {
    let told: readonly HappeningEntity[] = [];
    const result = await this.dataSource.transaction(async (manager) => {
      const scope = new HouseScope(ctx, manager, this.clock.nowMs());
      const value = await work(scope, manager);
      told = scope.told;
      return value;
    });
    for (const happening of told) this.fanOut.tell(HAPPENED, happening);
    return result;
  }

  /** Reads everything as it was at one moment. */
  snapshot<T>(read: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.dataSource.transaction('REPEATABLE READ', read);
  }

  /** As `snapshot`, held to a house: rows that belong together agree. */
  snapshotOf<T>(ctx: Context, read: (scope: HouseScope) => Promise<T>): Promise<T> {
    return this.snapshot((manager) => read(new HouseScope(ctx, manager, this.clock.nowMs())));
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
  scopes: null,
});
