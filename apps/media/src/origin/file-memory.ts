import { readFile } from 'node:fs/promises';

/** What may be held of files that were asked for lately: a few minutes of a rewinding hall. */
const MOST_BYTES = 128 * 1024 * 1024;

/** Files of recordings that were read lately. They never change once they are whole, so nothing has to be looked up. */
export class FileMemory {
  readonly #files = new Map<string, Promise<Buffer>>();
  #heldBytes = 0;

  /** The bytes of a file; those who ask at once share one read. @throws Error where there is none. */
  async read(path: string): Promise<Buffer> {
    const known = this.#files.get(path);
    if (known) {
      // Asked for again: the last to be let go.
      this.#files.delete(path);
      this.#files.set(path, known);
      return known;
    }
    const reading = readFile(path);
    this.#files.set(path, reading);
    try {
      this.#heldBytes += (await reading).byteLength;
      await this.#letGo();
    } catch (error) {
      this.#files.delete(path);
      throw error;
    }
    return reading;
  }

  async #letGo(): Promise<void> {
    for (const [path, oldest] of this.#files) {
      if (this.#heldBytes <= MOST_BYTES || this.#files.size === 1) return;
      this.#files.delete(path);
      this.#heldBytes -= (await oldest.catch(() => Buffer.alloc(0))).byteLength;
    }
  }
}
