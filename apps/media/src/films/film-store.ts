import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Logger } from 'pino';
import type { DesiredFilm } from '@heliphon/core/control/film';

const TRY_AGAIN_MS = 5000;

interface Origin {
  readonly serverUrl: string;
  readonly nodeId: string;
  readonly nodeSecret: string;
}

/** Films that programmes begin with, fetched ahead of time, so that they play while the server is away. */
export class FilmStore {
  readonly #here = new Set<string>();
  #wanted: readonly DesiredFilm[] = [];
  #working: Promise<void> | null = null;
  #timer: NodeJS.Timeout | null = null;
  readonly #closing = new AbortController();

  private constructor(
    private readonly folder: string,
    private readonly origin: Origin | null,
    private readonly log: Logger,
  ) {}

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
  get here(): ReadonlySet<string> {
    return this.#here;
  }

  pathOf(fileId: string): string {
    return join(this.folder, `${fileId}.mp4`);
  }

  /** Fetches what is missing and lets go of what nobody wants any more. */
  want(films: readonly DesiredFilm[]): void {
    this.#wanted = films;
    this.#working ??= this.#bringAll()
      .catch((error: unknown) => this.log.warn({ error: String(error) }, 'Films could not be tidied'))
      .finally(() => (this.#working = null));
  }

  async close(): Promise<void> {
    this.#closing.abort();
    if (this.#timer) clearTimeout(this.#timer);
    await this.#working;
  }

  async #bringAll(): Promise<void> {
    if (!this.origin) return;
    for (const fileId of this.#here) {
      if (this.#wanted.some((film) => film.fileId === fileId)) continue;
      this.#here.delete(fileId);
      await rm(this.pathOf(fileId), { force: true });
    }
    // Asked anew after each: what is wanted may have changed meanwhile.
    for (let film = this.#missing(); film; film = this.#missing()) {
      try {
        await this.#fetch(film, this.origin);
      } catch (error) {
        if (this.#closing.signal.aborted) return;
        this.log.warn({ error: String(error), fileId: film.fileId }, 'A film has not come; we try again');
        this.#timer = setTimeout(() => this.want(this.#wanted), TRY_AGAIN_MS);
        return;
      }
    }
  }

  #missing(): DesiredFilm | undefined {
    return this.#wanted.find(({ fileId }) => !this.#here.has(fileId));
  }

  async #fetch({ fileId, sizeBytes }: DesiredFilm, { serverUrl, nodeId, nodeSecret }: Origin): Promise<void> {
    const unfinished = `${this.pathOf(fileId)}.unfinished`;
    const answer = await fetch(`${serverUrl}/control/v1/films/${fileId}`, {
      headers: { authorization: `Node ${nodeId}:${nodeSecret}` },
      signal: this.#closing.signal,
    });
    if (!answer.ok || !answer.body) throw new Error(`The server answered ${answer.status}`);
    await pipeline(Readable.fromWeb(answer.body as never), createWriteStream(unfinished));
    const { size } = await stat(unfinished);
    if (size !== sizeBytes) throw new Error(`${size} of ${sizeBytes} bytes came`);
    await rename(unfinished, this.pathOf(fileId));
    this.#here.add(fileId);
  }
}
