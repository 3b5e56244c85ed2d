import { access, stat } from 'node:fs/promises';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { In, IsNull, LessThan } from 'typeorm';
import type { FileRefusal } from '@heliphon/core/files/file-kinds';
import type { FileFacts } from '@heliphon/contracts/files';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, systemContext } from '../platform/database.js';
import { FileEntity } from '../tables/file.entity.js';
import { FileFolders } from './file-folders.js';
import { type Inside, lookInto } from './look-into.js';
import { makePlayable, takeFilmLook, takePictureLook } from './make-playable.js';
import { FfmpegError, type InBackground } from './run-ffmpeg.js';

const EVERY_MS = 500;
/** Who has not said for so long that they are still at it is not. */
const CLAIM_MS = 20_000;
const SAY_EVERY_MS = 1000;

type Outcome =
  | { readonly state: 'ready'; readonly kind: Inside['kind']; readonly facts: FileFacts }
  | { readonly state: 'refused'; readonly refusal: FileRefusal };

/** Looks into what was uploaded and makes films and sounds playable: in the background, one after the other. */
@Injectable()
export class FileWork implements OnApplicationShutdown {
  readonly #log = new Logger('Files');
  #timer: NodeJS.Timeout | null = null;
  #working: Promise<void> | null = null;
  #atWork: { readonly id: string; readonly calling: AbortController } | null = null;

  constructor(
    private readonly database: Database,
    private readonly folders: FileFolders,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  start(): void {
    this.#timer = setInterval(() => {
      this.#working ??= this.workOff().finally(() => (this.#working = null));
    }, EVERY_MS);
  }

  async onApplicationShutdown(): Promise<void> {
    if (this.#timer) clearInterval(this.#timer);
    const id = this.#atWork?.id;
    this.#atWork?.calling.abort();
    await this.#working;
    // The next start need not wait for the claim to run out.
    if (id)
      await this.database.installation.query(
        `UPDATE files SET state = 'waiting', claimed_until = NULL WHERE id = ? AND state = 'making'`,
        [id],
      );
  }

  /** Until nothing waits any more. */
  async workOff(): Promise<void> {
    try {
      for (let file = await this.#claim(); file; file = await this.#claim()) await this.#work(file);
    } catch (error) {
      this.#log.warn(`Files wait: ${String(error)}`);
    }
  }

  /** The oldest that waits, or whose maker has gone; no other server takes the same. */
  #claim(): Promise<FileEntity | null> {
    const nowMs = this.clock.nowMs();
    return this.database.installation.transaction(async (manager) => {
      const file = await manager.findOne(FileEntity, {
        where: [
          { state: 'waiting', binnedAtMs: IsNull() },
          { state: 'making', claimedUntilMs: LessThan(nowMs) },
        ],
        order: { addedAtMs: 'ASC' },
        lock: { mode: 'pessimistic_write', onLocked: 'skip_locked' },
      });
      if (!file) return null;
      const claim = { state: 'making', madePercent: 0, claimedUntilMs: nowMs + CLAIM_MS } as const;
      return manager.save(Object.assign(file, claim));
    });
  }

  async #work(file: FileEntity): Promise<void> {
    const calling = new AbortController();
    this.#atWork = { id: file.id, calling };
    let percent = 0;
    const saying = setInterval(() => {
      this.#sayStillAtIt(file, percent).catch((error: unknown) =>
        this.#log.warn(`How far “${file.id}” is could not be said: ${String(error)}`),
      );
    }, SAY_EVERY_MS);
    try {
      const outcome = await this.#make(file, (made) => (percent = made), {
        signal: calling.signal,
        niceness: this.config.fileNiceness,
      });
      await this.#finish(file, outcome);
    } catch (error) {
      // Called off by hand it stands as stopped already; by our own end, the next start takes it up.
      if (!calling.signal.aborted) throw error;
    } finally {
      clearInterval(saying);
      this.#atWork = null;
    }
  }

  /** One statement, so that neither its version rises nor what somebody else changes is lost. */
  async #sayStillAtIt({ id }: FileEntity, percent: number): Promise<void> {
    const until = new Date(this.clock.nowMs() + CLAIM_MS);
    const answer = await this.database.installation.query<{ affectedRows: number }>(
      `UPDATE files SET made_percent = ?, claimed_until = ? WHERE id = ? AND state = 'making' AND binned_at IS NULL`,
      [percent, until, id],
    );
    if (answer.affectedRows === 0 && this.#atWork?.id === id) this.#atWork.calling.abort();
  }

  async #make(
    file: FileEntity,
    onPercent: (percent: number) => void,
    background: InBackground,
  ): Promise<Outcome> {
    const [original, playable, look] = [
      this.folders.original(file),
      this.folders.playable(file),
      this.folders.look(file),
    ];
    if (
      !(await access(original).then(
        () => true,
        () => false,
      ))
    )
      return { state: 'refused', refusal: 'file-broken' };
    const inside = await lookInto(original, file.sizeBytes, background);
    if (!inside.ok) return { state: 'refused', refusal: inside.error };
    const found = inside.value;
    try {
      if (found.kind === 'picture') await takePictureLook(original, look);
      else await makePlayable(found, { original, playable, onPercent, ...background });
      if (found.kind === 'film') await takeFilmLook(playable, found.durationMs, look, background);
    } catch (error) {
      if (background.signal.aborted) throw error;
      this.#log.warn(`${file.id} cannot be made playable: ${String(error)}`);
      if (found.kind === 'picture') return { state: 'refused', refusal: 'picture-unreadable' };
      return {
        state: 'refused',
        refusal: error instanceof FfmpegError ? 'film-unreadable' : 'making-failed',
      };
    }
    const playBytes = found.kind === 'picture' ? null : (await stat(playable)).size;
    return { state: 'ready', kind: found.kind, facts: { ...factsOf(found), playBytes } };
  }

  async #finish({ id, houseId }: FileEntity, outcome: Outcome): Promise<void> {
    await this.database.transaction(systemContext(houseId, 'system'), async (scope) => {
      const file = await scope.findOne(FileEntity, { id, state: In(['making']) });
      if (!file) return;
      await scope.save(Object.assign(file, outcome, { claimedUntilMs: null, madePercent: 100 }));
      const kind = outcome.state === 'ready' ? 'file-ready' : 'file-refused';
      await scope.happened({
        subjectKind: 'file',
        subjectId: id,
        kind,
        after: { name: file.name, ...outcome },
      });
    });
  }
}

const factsOf = (found: Inside): Omit<FileFacts, 'playBytes'> => ({
  widthPx: found.kind === 'sound' ? null : found.widthPx,
  heightPx: found.kind === 'sound' ? null : found.heightPx,
  durationMs: found.kind === 'picture' ? null : found.durationMs,
  changes: found.kind === 'film' ? found.changes : [],
});
