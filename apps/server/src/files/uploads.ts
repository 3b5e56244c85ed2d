import { link, mkdir, readdir, stat, statfs } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { Injectable } from '@nestjs/common';
import { FileStore } from '@tus/file-store';
import { type ServerOptions, Server } from '@tus/server';
import { FILE_LIMITS, refusalBefore } from '@heliphon/core/files/file-kinds';
import { fileNameSchema } from '@heliphon/contracts/files.schema';
import { UPLOADS_PATH } from '@heliphon/contracts/files';
import { Clock } from '../platform/clock.js';
import { contextOf, type HeliphonRequest } from '../platform/access.js';
import { type Context, Database } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { addArrived } from './arrived-file.js';
import { FileEntity } from '../tables/file.entity.js';
import { FileFolders } from './file-folders.js';

/** A sender that was cut off comes back within this, or begins again. */
const UNFINISHED_MS = 3 * 86_400_000;
/** What a programme on air may need meanwhile. */
const RESERVE_BYTES = 1_000_000_000;
/** Uploads of one house that have begun and are not whole. */
const MOST_OPEN = 20;

type Upload = Parameters<NonNullable<ServerOptions['onUploadFinish']>>[1];
type TusRequest = Parameters<NonNullable<ServerOptions['onIncomingRequest']>>[0];

/** Takes in files that may be large, over ways that may break (tus.io 1.0.0): cut off, it goes on where it was. */
@Injectable()
export class Uploads {
  readonly #tus: Server;
  #checking: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly database: Database,
    private readonly folders: FileFolders,
    private readonly clock: Clock,
  ) {
    this.#tus = new Server({
      path: UPLOADS_PATH,
      datastore: new FileStore({ directory: folders.uploads, expirationPeriodInMilliseconds: UNFINISHED_MS }),
      relativeLocation: true,
      maxSize: FILE_LIMITS.bytes.film,
      // The file's own name is in it already, so that a second ending makes no second file.
      namingFunction: (request) => `${senderOf(request).houseId}.${newId()}`,
      onIncomingRequest: (request, uploadId) => this.#admit(request, uploadId),
      onUploadCreate: (request, upload) => this.#checkInTurn(senderOf(request), upload),
      onUploadFinish: async (request, upload) => {
        await this.#keep(senderOf(request), upload);
        return {};
      },
    });
  }

  handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    return this.#tus.handle(request, response);
  }

  /** Throws away what nobody came back for. */
  async tidy(): Promise<void> {
    await mkdir(this.folders.uploads, { recursive: true });
    await this.#tus.cleanUpExpiredUploads();
  }

  /** Nobody reaches another house's upload. One whose last answer was lost on the way is kept when it is asked about. */
  async #admit(request: TusRequest, uploadId: string): Promise<void> {
    const ctx = senderOf(request);
    if (!uploadId.startsWith(`${ctx.houseId}.`)) throw refusal(404, 'not-found');
    if (request.method !== 'HEAD') return;
    const upload = await this.#tus.datastore.getUpload(uploadId).catch(() => null);
    if (upload && upload.offset === upload.size) await this.#keep(ctx, upload);
  }

  /** One after another: two that ask at once must not both be promised the same room. */
  #checkInTurn(ctx: Context, upload: Upload): Promise<{ metadata?: Upload['metadata'] }> {
    const checked = this.#checking.then(() => this.#check(ctx, upload));
    this.#checking = checked.catch(() => undefined);
    return checked;
  }

  /** Those that have begun and are not whole yet. */
  async #openUploads(): Promise<{ id: string; leftBytes: number }[]> {
    const names = await readdir(this.folders.uploads);
    const uploads = names.filter((name) => !name.endsWith('.json'));
    const found = await Promise.all(uploads.map((id) => this.#tus.datastore.getUpload(id).catch(() => null)));
    return found.flatMap((upload) =>
      upload && upload.offset < (upload.size ?? 0)
        ? [{ id: upload.id, leftBytes: (upload.size ?? 0) - upload.offset }]
        : [],
    );
  }

  async #check({ houseId }: Context, { metadata, size }: Upload): Promise<{ metadata?: Upload['metadata'] }> {
    const name = fileNameSchema.validate((metadata?.filename ?? '').slice(-FILE_LIMITS.nameLength));
    if (name.error) throw refusal(422, 'file-nameless');
    const sizeBytes = size ?? 0;
    const found = refusalBefore(name.value, sizeBytes);
    if (found)
      throw refusal(found.code === 'file-too-large' ? 413 : 422, found.code, { most: found.mostBytes });
    await mkdir(this.folders.uploads, { recursive: true, mode: 0o700 });
    const open = await this.#openUploads();
    const own = open.filter(({ id }) => id.startsWith(`${houseId}.`));
    if (own.length >= MOST_OPEN) throw refusal(429, 'file-too-many-uploads', { most: MOST_OPEN });
    const { bavail, bsize } = await statfs(this.folders.uploads);
    // What others have been promised is not free any more. Twice: as it came, and as it is made.
    const promisedBytes = open.reduce((sum, { leftBytes }) => sum + 2 * leftBytes, 0);
    if (bavail * bsize < 2 * sizeBytes + promisedBytes + RESERVE_BYTES) throw refusal(507, 'file-no-space');
    return { metadata: { filename: name.value } };
  }

  /** Done twice, the second time there is nothing to do. */
  async #keep(ctx: Context, { id: uploadId, metadata }: Upload): Promise<void> {
    const id = uploadId.slice(ctx.houseId.length + 1);
    const file = { houseId: ctx.houseId, id };
    const original = this.folders.original(file);
    await mkdir(this.folders.of(file), { recursive: true });
    // Both names lead to the same bytes; the upload's goes when it runs out.
    await link(join(this.folders.uploads, uploadId), original).catch(ignoreThere);
    const { size } = await stat(original);
    await this.database.transaction(ctx, async (scope) => {
      if (await scope.findOne(FileEntity, { id })) return;
      const name = metadata?.filename ?? '';
      await addArrived(scope, { id, name, sizeBytes: size, addedAtMs: this.clock.nowMs() });
    });
  }
}

const refusal = (status: number, code: string, params: Record<string, number> = {}) => ({
  status_code: status,
  body: JSON.stringify({ type: 'about:blank', status, title: 'Not taken', code, params }),
});

const ignoreThere = (error: NodeJS.ErrnoException): void => {
  if (error.code !== 'EEXIST') throw error;
};

/** Who sends; the guard has let them in before. */
const senderOf = (request: TusRequest): Context =>
  contextOf((request.runtime?.node?.req as unknown as HeliphonRequest).signedIn!);
