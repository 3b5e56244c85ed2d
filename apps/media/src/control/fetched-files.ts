import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Logger } from 'pino';
import { PersistentWork, type WantKeeper } from './want-keeper.js';

/** How a node shows itself to the server that it fetches from. */
export interface NodeOrigin {
  readonly serverUrl: string;
  readonly nodeId: string;
  readonly nodeSecret: string;
}

/** A file that the server has, named by its content: one that is here need never be fetched again. */
export interface WantedFile {
  readonly id: string;
  /** At the server. */
  readonly path: string;
  /** Of the whole; `null` where the server does not say beforehand. */
  readonly sizeBytes: number | null;
}

/** Files of the server that are fetched ahead of time, so that they are at hand while it is away. */
export class FetchedFiles implements WantKeeper<readonly WantedFile[], ReadonlySet<string>> {
  readonly #here = new Set<string>();
  #wanted: readonly WantedFile[] = [];
  readonly #work: PersistentWork;

  private constructor(
    private readonly folder: string,
    private readonly extension: string,
    private readonly origin: NodeOrigin | null,
    private readonly log: Logger,
  ) {
    this.#work = new PersistentWork((signal) => this.#bringAll(signal), log);
  }

  /**
   * Takes up what lies there.
   * @param extension - of every file, for instance `.mp4`
   * @param origin - where they come from; `null`: what lies there stays, and no more comes
   */
  static async open(
    folder: string,
    extension: string,
    origin: NodeOrigin | null,
    log: Logger,
  ): Promise<FetchedFiles> {
    await mkdir(folder, { recursive: true });
    const files = new FetchedFiles(folder, extension, origin, log);
    for (const name of await readdir(folder)) {
      if (name.endsWith(extension)) files.#here.add(name.slice(0, -extension.length));
      else await rm(join(folder, name), { force: true }); // half fetched when we fell
    }
    return files;
  }

  /** Those that can be used, by their ids. */
  facts(): ReadonlySet<string> {
    return this.#here;
  }

  pathOf(id: string): string {
    return join(this.folder, `${id}${this.extension}`);
  }

  /** Fetches what is missing and lets go of what nobody wants any more. */
  apply(files: readonly WantedFile[]): void {
    const isNew = files.some(({ id }) => !this.#wanted.some((wanted) => wanted.id === id));
    this.#wanted = files;
    this.#work.begin(isNew);
  }

  stop(): Promise<void> {
    return this.#work.stop();
  }

  async #bringAll(signal: AbortSignal): Promise<boolean> {
    if (!this.origin) return true;
    for (const id of this.#here) {
      if (this.#wanted.some((file) => file.id === id)) continue;
      this.#here.delete(id);
      await rm(this.pathOf(id), { force: true });
    }
    const failed = new Set<string>();
    // Asked again after each: what is wanted may have changed meanwhile. One that fails holds up no other.
    for (let file = this.#missing(failed); file; file = this.#missing(failed)) {
      await this.#fetch(file, this.origin, signal).catch((error: unknown) => {
        failed.add(file!.id);
        if (!signal.aborted)
          this.log.warn({ error: String(error), file }, 'A file has not come; we try again');
      });
      if (signal.aborted) break;
    }
    return failed.size === 0;
  }

  #missing(except: ReadonlySet<string>): WantedFile | undefined {
    return this.#wanted.find(({ id }) => !this.#here.has(id) && !except.has(id));
  }

  async #fetch(
    { id, path, sizeBytes }: WantedFile,
    { serverUrl, nodeId, nodeSecret }: NodeOrigin,
    signal: AbortSignal,
  ): Promise<void> {
    const unfinished = `${this.pathOf(id)}.unfinished`;
    const answer = await fetch(`${serverUrl}${path}`, {
      headers: { authorization: `Node ${nodeId}:${nodeSecret}` },
      signal,
    });
    if (!answer.ok || !answer.body) throw new Error(`The server answered ${answer.status}`);
    await pipeline(Readable.fromWeb(answer.body as never), createWriteStream(unfinished));
    const { size } = await stat(unfinished);
    if (sizeBytes !== null && size !== sizeBytes) throw new Error(`${size} of ${sizeBytes} bytes came`);
    await rename(unfinished, this.pathOf(id));
    this.#here.add(id);
  }
}
