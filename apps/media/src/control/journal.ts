import { randomUUID } from 'node:crypto';
import { appendFile, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { JournalEntry, Observation } from '@heliphon/core/control/observations';

/** The first line of the journal's file: its format, and the number of the last entry that was stored. */
interface JournalHead {
  readonly formatVersion: 1;
  /** Made with the file: another file counts by itself. Absent in files from before it was thought of. */
  readonly journalId?: string;
  readonly storedSeq: number;
}

/** At most so many entries travel in one message. */
const BATCH = 500;

/** What happened, numbered and kept on disk until the server says that it has stored it. */
export class Journal {
  #queue: Promise<void> = Promise.resolve();

  private constructor(
    private readonly path: string,
    readonly id: string,
    private entries: JournalEntry[],
    private nextSeq: number,
  ) {}

  static async open(folder: string): Promise<Journal> {
    const path = join(folder, 'journal.jsonl');
    const text = await readFile(path, 'utf8').catch(() => '');
    const [head, ...lines] = text.split('\n').filter(Boolean).flatMap(parseLine);
    const { storedSeq = 0, journalId = randomUUID() } = (head as JournalHead | undefined) ?? {};
    const entries = (lines as JournalEntry[]).filter((entry) => entry.journalSeq > storedSeq);
    const journal = new Journal(
      path,
      journalId,
      entries,
      Math.max(storedSeq, entries.at(-1)?.journalSeq ?? 0) + 1,
    );
    await journal.#rewrite();
    return journal;
  }

  add(observation: Observation): void {
    const entry = { journalSeq: this.nextSeq, observation };
    this.nextSeq += 1;
    this.entries.push(entry);
    this.#enqueue(() => appendFile(this.path, `${JSON.stringify(entry)}\n`));
  }

  /** The oldest entries that the server has not stored, once they are safe on disk. */
  async unstored(): Promise<readonly JournalEntry[]> {
    await this.#queue;
    return this.entries.slice(0, BATCH);
  }

  /** How many entries the server has not stored. */
  get waiting(): number {
    return this.entries.length;
  }

  /** The server has everything up to this number; also what it had before this file was restored or created again. */
  stored(journalSeq: number): void {
    this.nextSeq = Math.max(this.nextSeq, journalSeq + 1);
    this.entries = this.entries.filter((entry) => entry.journalSeq > journalSeq);
    this.#enqueue(() => this.#rewrite());
  }

  settled(): Promise<void> {
    return this.#queue;
  }

  async #rewrite(): Promise<void> {
    const head: JournalHead = {
      formatVersion: 1,
      journalId: this.id,
      storedSeq: (this.entries[0]?.journalSeq ?? this.nextSeq) - 1,
    };
    const lines = [head, ...this.entries].map((line) => `${JSON.stringify(line)}\n`);
    await writeFile(`${this.path}.next`, lines.join(''));
    await rename(`${this.path}.next`, this.path);
  }

  /** A full disk must not end the picture: the entry stays in memory and is sent all the same. */
  #enqueue(write: () => Promise<void>): void {
    this.#queue = this.#queue.then(write).catch(() => undefined);
  }
}

function parseLine(line: string): unknown[] {
  try {
    return [JSON.parse(line)];
  } catch {
    return []; // a last line cut short by a crash
  }
}
