import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Clock } from '../clock.js';
import { type ChildProcesses, outputOf } from '../processes/child-processes.js';

/** A reel that could not be made is tried again after this. */
const AGAIN_AFTER_MS = 5000;
const MAKING_TIMEOUT_MS = 20_000;
/** In memory; those on disk are read again. */
const MOST_HELD = 40;
const EXTENSION = '.flv';

/** What is made of an order by ffmpeg, and how it is read. */
export interface Making<Order, Made> {
  /** Of an order, by all that it is made of: `SUBJECT@FORMAT`. */
  readonly nameOf: (order: Order) => string;
  /** For ffmpeg, which writes FLV to its output. */
  readonly argsOf: (order: Order) => readonly string[];
  /** `null` for what is not whole. */
  readonly read: (name: string, flv: Uint8Array, order: Order) => Made | null;
}

/** Makes what a slate is played from ahead of time, each once, and keeps it on disk and in memory. */
export class KeptReels<Order, Made> {
  readonly #held = new Map<string, Made>();
  readonly #begun = new Set<string>();
  #queue = Promise.resolve();
  readonly #failedAtMs = new Map<string, number>();
  #lettingGo = Promise.resolve();

  constructor(
    private readonly folder: string,
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
    private readonly making: Making<Order, Made>,
  ) {}

  /** The reel, where it is ready; where it is not, it is begun. */
  ready(order: Order): Made | null {
    const name = this.making.nameOf(order);
    const held = this.#held.get(name);
    if (held) return held;
    const isSoonAfterFailure =
      this.clock.monotonicMs() - (this.#failedAtMs.get(name) ?? -Infinity) < AGAIN_AFTER_MS;
    if (this.#begun.has(name) || isSoonAfterFailure) return null;
    // One after the other: many programmes may open their doors in the same minute.
    this.#queue = this.#queue.then(() => this.#make(name, order)).finally(() => this.#begun.delete(name));
    this.#begun.add(name);
    return null;
  }

  /** Forgets those of subjects that nobody wants any more. */
  letGo(wanted: ReadonlySet<string>): void {
    const isWanted = (name: string): boolean => wanted.has(name.slice(0, name.lastIndexOf('@')));
    for (const known of [this.#held, this.#failedAtMs])
      for (const name of known.keys()) if (!isWanted(name)) known.delete(name);
    this.#lettingGo = this.#lettingGo.then(async () => {
      const files = await readdir(this.folder).catch(() => []);
      for (const file of files) if (!isWanted(file)) await rm(join(this.folder, file), { force: true });
    });
  }

  /** Waits for those that are being made. */
  async settled(): Promise<void> {
    await Promise.all([this.#queue, this.#lettingGo]);
  }

  async #make(name: string, order: Order): Promise<void> {
    const path = join(this.folder, `${name}${EXTENSION}`);
    try {
      const kept = await readFile(path).catch(() => null);
      const reel = (kept && this.making.read(name, kept, order)) ?? (await this.#encode(name, path, order));
      this.#held.set(name, reel);
      if (this.#held.size > MOST_HELD) this.#held.delete(this.#held.keys().next().value!);
    } catch {
      // Tried again when it is next asked for; until then another reel is shown, or the gap remains.
      this.#failedAtMs.set(name, this.clock.monotonicMs());
    }
  }

  async #encode(name: string, path: string, order: Order): Promise<Made> {
    const child = this.children.start({
      purpose: 'slate',
      command: 'ffmpeg',
      args: this.making.argsOf(order),
      timeoutMs: MAKING_TIMEOUT_MS,
    });
    const bytes = await outputOf(child, new Uint8Array());
    const reel = bytes && this.making.read(name, bytes, order);
    if (!reel) throw new Error(`A slate could not be made: ${name}`);
    // A reel that cannot be kept can be shown all the same.
    await mkdir(this.folder, { recursive: true })
      .then(() => writeFile(`${path}.unfinished`, bytes))
      .then(() => rename(`${path}.unfinished`, path))
      .catch(() => undefined);
    return reel;
  }
}
