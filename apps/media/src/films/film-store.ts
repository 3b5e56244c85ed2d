import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Logger } from 'pino';
import type { DesiredFilm } from '@heliphon/core/control/film';
import { PersistentWork, type WantKeeper } from '../control/want-keeper.js';

interface Origin {
  readonly serverUrl: string;
  readonly nodeId: string;
  readonly nodeSecret: string;
}

/** Films that programmes begin with, fetched ahead of time, so that they play while the server is away. */
export class FilmStore implements WantKeeper<readonly DesiredFilm[], ReadonlySet<string>> {
  readonly #here = new Set<string>();
  #wanted: readonly DesiredFilm[] = [];
  readonly #work: PersistentWork;

  private constructor(
    private readonly folder: string,
    private readonly origin: Origin | null,
    private readonly log: Logger,
  ) {
    this.#work = new PersistentWork((signal) => this.#bringAll(signal), log);
  }

  /** Takes up what lies there. @param origin - where films come from; `null`: what lies there stays, and no more comes */
  static async open(folder: string, origin: Origin | null, log: Logger): Promise<FilmStore> {
    await mkdir(folder, { recursive: true });
    const store = new FilmStore(folder, origin, log);
    for (const name of await readdir(folder)) {
      if (name.endsWith('.mp4')) store.#here.add(name.slice(0, -'.mp4'.length));
      else await rm(join(folder, name), { force: true }); // half fetched when we fell
    }
    return store;
  }

  /** Films that can be played. */
  facts(): ReadonlySet<string> {
    return this.#here;
  }

  pathOf(fileId: string): string {
    return join(this.folder, `${fileId}.mp4`);
  }

  /** Fetches what is missing and lets go of what nobody wants any more. */
  apply(films: readonly DesiredFilm[]): void {
    const isNew = films.some(({ fileId }) => !this.#wanted.some((film) => film.fileId === fileId));
    this.#wanted = films;
    this.#work.begin(isNew);
  }

  stop(): Promise<void> {
    return this.#work.stop();
  }

  async #bringAll(signal: AbortSignal): Promise<boolean> {
    if (!this.origin) return true;
    for (const fileId of this.#here) {
      if (this.#wanted.some((film) => film.fileId === fileId)) continue;
      this.#here.delete(fileId);
      await rm(this.pathOf(fileId), { force: true });
    }
    const failed = new Set<string>();
    // Asked again after each: what is wanted may have changed meanwhile. One that fails holds up no other.
    for (let film = this.#missing(failed); film; film = this.#missing(failed)) {
      await this.#fetch(film, this.origin, signal).catch((error: unknown) => {
        failed.add(film!.fileId);
        if (!signal.aborted)
          this.log.warn({ error: String(error), film }, 'A film has not come; we try again');
      });
      if (signal.aborted) break;
    }
    return failed.size === 0;
  }

  #missing(except: ReadonlySet<string>): DesiredFilm | undefined {
    return this.#wanted.find(({ fileId }) => !this.#here.has(fileId) && !except.has(fileId));
  }

  async #fetch(
    { fileId, sizeBytes }: DesiredFilm,
    { serverUrl, nodeId, nodeSecret }: Origin,
    signal: AbortSignal,
  ): Promise<void> {
    const unfinished = `${this.pathOf(fileId)}.unfinished`;
    const answer = await fetch(`${serverUrl}/control/v1/films/${fileId}`, {
      headers: { authorization: `Node ${nodeId}:${nodeSecret}` },
      signal,
    });
    if (!answer.ok || !answer.body) throw new Error(`The server answered ${answer.status}`);
    await pipeline(Readable.fromWeb(answer.body as never), createWriteStream(unfinished));
    const { size } = await stat(unfinished);
    if (size !== sizeBytes) throw new Error(`${size} of ${sizeBytes} bytes came`);
    await rename(unfinished, this.pathOf(fileId));
    this.#here.add(fileId);
  }
}
