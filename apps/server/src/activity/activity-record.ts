import { Injectable } from '@nestjs/common';
import { Brackets, In } from 'typeorm';
import type { ActivityEntry, ActivityQuery } from '@heliphon/contracts/activity';
import type { Page } from '@heliphon/contracts/problem';
import type { SourceHappening } from '@heliphon/contracts/sources';
import { MediaNodes } from '../nodes/media-nodes.js';
import { type Context, Database, mayDo, type PageWish } from '../platform/database.js';
import { HappeningEntity, PersonEntity } from '../platform/entities.js';
import { notFound, ProblemError, refusedField } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { SourceEntity } from '../tables/source.entity.js';
import { subjectNames } from './subject-names.js';
import { withoutSecrets } from './without-secrets.js';

const SOURCE_KINDS = ['source-came', 'source-went', 'source-refused', 'key-renewed'] as const;

/** Who changed what, before and after: reads the happenings, and takes them back. */
@Injectable()
export class ActivityRecord {
  constructor(
    private readonly database: Database,
    private readonly undo: UndoRegistry,
    private readonly nodes: MediaNodes,
  ) {}

  /** Newest first. `words` is looked for in what was changed. */
  async list(ctx: Context, query: ActivityQuery, wish: PageWish): Promise<Page<ActivityEntry>> {
    const { rows, next } = await this.#page(ctx, query, wish);
    const [people, subjects] = await Promise.all([
      this.database.installation.findBy(PersonEntity, { id: In([...new Set(rows.map((row) => row.by))]) }),
      subjectNames(this.database.house(ctx), rows),
    ]);
    const names = new Map(people.map(({ id, name }) => [id, name]));
    const items = rows.map((row) =>
      this.#view(ctx, row, names.get(row.by) ?? null, subjects.get(row.subjectId) ?? null),
    );
    return { items, next };
  }

  async ofSource(ctx: Context, sourceId: string, wish: PageWish): Promise<Page<SourceHappening>> {
    await this.database.house(ctx).get(SourceEntity, sourceId, 'source');
    const { rows, next } = await this.#page(ctx, { subjectId: sourceId, kinds: SOURCE_KINDS }, wish);
    return {
      items: rows.map((row) => {
        const after = (row.after ?? {}) as Partial<SourceHappening> & { nodeId?: string };
        return {
          id: row.id,
          kind: row.kind as SourceHappening['kind'],
          atMs: row.atMs,
          remoteAddress: after.remoteAddress ?? null,
          protocol: after.protocol ?? null,
          point: after.nodeId && this.nodes.ids.length > 1 ? this.nodes.nameOf(after.nodeId).place : null,
          reason: after.reason ?? null,
        };
      }),
      next,
    };
  }

  /** Takes a change back: anyone who may do it may undo it. @throws ProblemError 403, or 409 with the reason. */
  async takeBack(ctx: Context, id: string): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      const happening = await manager.findOne(HappeningEntity, {
        where: { id, houseId: ctx.houseId },
        lock: { mode: 'pessimistic_write' },
      });
      if (!happening) throw notFound('happening');
      if (happening.undoneBy !== null) throw new ProblemError(409, 'undone-already');
      const undoing = this.undo.find(happening.kind);
      if (!undoing) throw new ProblemError(409, 'not-to-be-undone');
      if (!mayDo(ctx, undoing.needs)) throw new ProblemError(403, 'not-allowed', { need: undoing.needs });
      await undoing.takeBack(scope, happening, manager);
      const { subjectKind, subjectId, kind, before, after } = happening;
      const undone = await scope.happened({
        subjectKind,
        subjectId,
        kind: 'undone',
        before: after,
        after: { kind, before },
      });
      await manager.update(HappeningEntity, { id }, { undoneBy: undone.id });
    });
  }

  /** Takes back what this person last did to something. */
  async takeBackLast(ctx: Context, subjectId: string): Promise<void> {
    const last = await this.database.installation.findOne(HappeningEntity, {
      where: { houseId: ctx.houseId, subjectId, by: ctx.by },
      order: { id: 'DESC' },
    });
    if (!last || last.kind === 'undone') throw new ProblemError(409, 'nothing-to-undo');
    await this.takeBack(ctx, last.id);
  }

  async #page(
    ctx: Context,
    { subjectId, by, kinds, words, fromMs, toMs }: ActivityQuery,
    { after, limit }: PageWish,
  ): Promise<{ rows: HappeningEntity[]; next: string | null }> {
    if (after !== null && !/^\d{1,18}$/.test(after)) throw refusedField('after', 'not-a-cursor');
    const query = this.database.installation
      .createQueryBuilder(HappeningEntity, 'h')
      .where('h.houseId = :houseId', { houseId: ctx.houseId })
      .orderBy('h.id', 'DESC')
      .take(limit + 1);
    if (after !== null) query.andWhere('h.id < :after', { after });
    if (subjectId) query.andWhere('h.subjectId = :subjectId', { subjectId });
    if (by) query.andWhere('h.by = :by', { by });
    if (kinds) query.andWhere('h.kind IN (:...kinds)', { kinds });
    if (fromMs !== undefined) query.andWhere('h.atMs >= :from', { from: new Date(fromMs) });
    if (toMs !== undefined) query.andWhere('h.atMs < :to', { to: new Date(toMs) });
    if (words) {
      const like = `%${words.replace(/[\\%_]/g, '\\$&')}%`;
      query.andWhere(
        new Brackets((any) =>
          any.where('h.before LIKE :like').orWhere('h.after LIKE :like').orWhere('h.kind LIKE :like'),
        ),
        { like },
      );
    }
    const rows = await query.getMany();
    const page = rows.slice(0, limit);
    return { rows: page, next: rows.length > limit ? page.at(-1)!.id : null };
  }

  #view(
    ctx: Context,
    row: HappeningEntity,
    byName: string | null,
    subjectName: string | null,
  ): ActivityEntry {
    const undoing = this.undo.find(row.kind);
    return {
      id: row.id,
      atMs: row.atMs,
      by: row.by,
      byName,
      subjectKind: row.subjectKind,
      subjectId: row.subjectId,
      subjectName,
      kind: row.kind,
      before: withoutSecrets(row.before),
      after: withoutSecrets(row.after),
      canUndo: row.undoneBy === null && undoing !== undefined && mayDo(ctx, undoing.needs),
      isUndone: row.undoneBy !== null,
    };
  }
}
