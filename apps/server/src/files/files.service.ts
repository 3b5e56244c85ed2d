import type { HappeningKind } from '@heliphon/contracts/happenings';
import { having, payload } from '../platform/happening-payloads.js';
import { copyFile, mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { Injectable } from '@nestjs/common';
import { IsNull, LessThan, Not } from 'typeorm';
import type { FileState } from '@heliphon/core/files/file-kinds';
import type { EditFile, FileFilter, FileUse, FileView } from '@heliphon/contracts/files';
import type { Page } from '@heliphon/contracts/problem';
import { Posters } from './posters.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { addArrived } from './arrived-file.js';
import { FileEntity } from '../tables/file.entity.js';
import { FileFolders } from './file-folders.js';
import { usesOf } from './file-uses.js';

const SHOWN_USES = 3;
/** How long the bin gives back. */
export const FILE_BIN_MS = 30 * 86_400_000;

/** Some of its columns, as they were. */
const CHANGED = payload(having<Partial<FileEntity>>({}));

/** Pictures, films and sounds of the house, and what uses them. */
@Injectable()
export class FilesService {
  constructor(
    private readonly database: Database,
    private readonly folders: FileFolders,
    private readonly posters: Posters,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    for (const kind of ['file-edited', 'file-binned', 'file-restored'] as const)
      undo.register(kind, 'files.edit', CHANGED, async (scope, { subjectId, before }) => {
        const file = await scope.lock(FileEntity, { id: subjectId }, 'file');
        await scope.save(Object.assign(file, before));
      });
  }

  /** Latest first; either what there is, or what is in the bin. */
  async list(ctx: Context, filter: FileFilter, wish: PageWish): Promise<Page<FileView>> {
    const scope = this.database.house(ctx);
    const where = {
      binnedAtMs: filter.in === 'bin' ? Not(IsNull()) : IsNull(),
      ...(filter.kind ? { kind: filter.kind } : {}),
      ...(filter.state ? { state: filter.state } : {}),
    };
    const { rows, next } = await scope.page(FileEntity, { by: 'addedAtMs', descending: true, where }, wish);
    const uses = await usesOf(
      scope,
      rows.map(({ id }) => id),
    );
    return { items: rows.map((row) => view(row, uses.get(row.id) ?? [])), next };
  }

  async get(ctx: Context, id: string): Promise<FileView> {
    return this.#view(this.database.house(ctx), await this.find(ctx, id));
  }

  /** @throws ProblemError 404 */
  find(ctx: Context, id: string): Promise<FileEntity> {
    return this.database.house(ctx).get(FileEntity, id, 'file');
  }

  async edit(ctx: Context, id: string, version: number, { name }: EditFile): Promise<FileView> {
    return this.database.transaction(ctx, async (scope) => {
      const file = await scope.lockVersion(FileEntity, id, version, 'file', (row) => this.#view(scope, row));
      return this.#change(scope, file, 'file-edited', { name });
    });
  }

  /** Into the bin. @throws ProblemError 409 naming what uses it */
  async bin(ctx: Context, id: string): Promise<FileView> {
    return this.database.transaction(ctx, async (scope) => {
      const file = await scope.lock(FileEntity, { id }, 'file');
      const [use] = (await usesOf(scope, [id])).get(id) ?? [];
      if (use) throw new ProblemError(409, 'file-in-use', { title: use.title });
      return this.#change(scope, file, 'file-binned', { binnedAtMs: this.clock.nowMs() });
    });
  }

  async restore(ctx: Context, id: string): Promise<FileView> {
    return this.database.transaction(ctx, async (scope) =>
      this.#change(scope, await scope.lock(FileEntity, { id }, 'file'), 'file-restored', {
        binnedAtMs: null,
      }),
    );
  }

  /** Stops making it playable. @throws ProblemError 409 where it is not being made */
  stop(ctx: Context, id: string): Promise<FileView> {
    return this.#turn(ctx, id, ['waiting', 'making'], 'stopped');
  }

  /** Makes it playable after all. @throws ProblemError 409 where it is, or is being made */
  makeAgain(ctx: Context, id: string): Promise<FileView> {
    return this.#turn(ctx, id, ['stopped', 'refused'], 'waiting');
  }

  /** A picture that came as a poster is a file of the house like any other. */
  addPicture(ctx: Context, id: string, name: string, bytes: Buffer): Promise<void> {
    return this.#add(ctx, id, name, (original) => writeFile(original, bytes));
  }

  /** A film that lies on this machine already. */
  addFilm(ctx: Context, id: string, name: string, path: string): Promise<void> {
    return this.#add(ctx, id, name, (original) => copyFile(path, original));
  }

  async #add(
    ctx: Context,
    id: string,
    name: string,
    put: (original: string) => Promise<unknown>,
  ): Promise<void> {
    const file = { houseId: ctx.houseId, id };
    const original = this.folders.original(file);
    await mkdir(this.folders.of(file), { recursive: true });
    await put(original);
    const { size } = await stat(original);
    await this.database.transaction(ctx, (scope) =>
      addArrived(scope, { id, name, sizeBytes: size, addedAtMs: this.clock.nowMs() }),
    );
  }

  /** A picture of the house in the sizes of a poster. @returns the poster's id. @throws ProblemError 422 */
  async asPoster(ctx: Context, id: string): Promise<string> {
    const file = await this.find(ctx, id);
    if (file.kind !== 'picture' || file.state !== 'ready' || file.binnedAtMs !== null)
      throw refusedField('fileId', 'file-no-picture');
    return this.posters.keep(await readFile(this.folders.original(file)), id);
  }

  /** Deletes for good what has lain in the bin long enough. */
  async emptyBin(): Promise<void> {
    const manager = this.database.installation;
    const ripe = await manager.findBy(FileEntity, { binnedAtMs: LessThan(this.clock.nowMs() - FILE_BIN_MS) });
    for (const file of ripe) {
      await rm(this.folders.of(file), { recursive: true, force: true });
      await manager.delete(FileEntity, { id: file.id });
    }
  }

  async #turn(ctx: Context, id: string, from: readonly FileState[], state: FileState): Promise<FileView> {
    return this.database.transaction(ctx, async (scope) => {
      const file = await scope.lock(FileEntity, { id }, 'file');
      if (!from.includes(file.state)) throw new ProblemError(409, 'file-moved-on');
      await scope.save(Object.assign(file, { state, refusal: null, claimedUntilMs: null, madePercent: 0 }));
      const kind = state === 'stopped' ? 'file-stopped' : 'file-made-again';
      await scope.happened({ subjectKind: 'file', subjectId: id, kind, after: { name: file.name } });
      return this.#view(scope, file);
    });
  }

  async #change(
    scope: HouseScope,
    file: FileEntity,
    kind: HappeningKind,
    change: Partial<FileEntity>,
  ): Promise<FileView> {
    const before = Object.fromEntries(
      Object.keys(change).map((field) => [field, file[field as keyof FileEntity]]),
    );
    const saved = await scope.save(Object.assign(file, change));
    await scope.happened({ subjectKind: 'file', subjectId: file.id, kind, before, after: change });
    return this.#view(scope, saved);
  }

  async #view(scope: HouseScope, file: FileEntity): Promise<FileView> {
    return view(file, (await usesOf(scope, [file.id])).get(file.id) ?? []);
  }
}

function view(file: FileEntity, uses: readonly FileUse[]): FileView {
  const { id, version, name, kind, state, sizeBytes, addedAtMs, madePercent, refusal, facts, binnedAtMs } =
    file;
  const isReady = state === 'ready';
  return {
    id,
    version,
    name,
    kind,
    state,
    sizeBytes,
    addedAtMs,
    madePercent,
    refusal,
    facts,
    lookUrl: isReady && kind !== 'sound' ? `/api/files/${id}/look` : null,
    playUrl: isReady && kind !== 'picture' ? `/api/files/${id}/play` : null,
    uses: uses.slice(0, SHOWN_USES),
    usesCount: uses.length,
    binnedAtMs,
  };
}
