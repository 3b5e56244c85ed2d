import { appendFile, mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import Joi from 'joi';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import type { PackagerStart, Segment } from '@heliphon/core/packaging/packager';
import { initName, segmentName } from '@heliphon/core/packaging/playlist';

/** Version of the files in a recording's folder; `docs/recording.md` describes them. */
const FORMAT_VERSION = 1;
const INDEX = 'index.jsonl';
const FACTS = 'programme.json';

/** A segment as the index holds it: a line each, only ever appended. */
export interface IndexedSegment extends Segment {
  readonly utcMs: number;
  readonly sizeBytes: number;
}

/** What has to be known of a programme to go on with it, or to replay it, without the server. */
export interface ProgrammeFacts {
  readonly formatVersion: number;
  readonly programmeId: string;
  readonly houseId: string;
  readonly life: EventLife;
  readonly lastCommandId: string | null;
  /** When air began and ended on the programme's own time. */
  readonly airAtProgrammeMs: number | null;
  readonly endAtProgrammeMs: number | null;
}

const isId = (text: string): boolean => /^[0-9a-f-]{36}$/.test(text);

const indexedSegment = Joi.object<IndexedSegment>({
  sequence: Joi.number().integer().required(),
  programmeMs: Joi.number().required(),
  utcMs: Joi.number().required(),
  durationSeconds: Joi.number().required(),
  initNumber: Joi.number().integer().required(),
  discontinuity: Joi.boolean().required(),
  firstPart: Joi.number().integer().required(),
  partCount: Joi.number().integer().required(),
  sizeBytes: Joi.number().integer().required(),
});

/** The folder of one programme's recording, `media/{house}/{programme}`. */
export class RecordingFolder {
  /** Writes follow one another; a failed one does not hold up the next. */
  #queue: Promise<void> = Promise.resolve();
  #failure: Error | null = null;

  private constructor(readonly path: string) {}

  static async open(mediaFolder: string, houseId: string, programmeId: string): Promise<RecordingFolder> {
    if (!isId(houseId) || !isId(programmeId)) throw new Error('House and programme are named by UUIDs');
    const path = join(mediaFolder, houseId, programmeId);
    await mkdir(path, { recursive: true });
    return new RecordingFolder(path);
  }

  /** The last write that failed, for instance with a full disk. */
  get failure(): Error | null {
    return this.#failure;
  }

  writeInit(number: number, bytes: Uint8Array): void {
    void this.#enqueue(() => writeFile(join(this.path, initName(number)), bytes));
  }

  /** Keeps a whole segment, then says so in the index: a line never names a file that is not there. */
  writeSegment(segment: IndexedSegment, bytes: Uint8Array): Promise<void> {
    return this.#enqueue(async () => {
      await writeFile(join(this.path, segmentName(segment.sequence)), bytes);
      await appendFile(join(this.path, INDEX), `${JSON.stringify(segment)}\n`);
    });
  }

  writeFacts(facts: Omit<ProgrammeFacts, 'formatVersion'>): Promise<void> {
    return this.#enqueue(async () => {
      const next = join(this.path, `${FACTS}.next`);
      await writeFile(next, JSON.stringify({ formatVersion: FORMAT_VERSION, ...facts }));
      await rename(next, join(this.path, FACTS));
    });
  }

  async readFacts(): Promise<ProgrammeFacts | null> {
    const text = await readFile(join(this.path, FACTS), 'utf8').catch(() => null);
    if (text === null) return null;
    const facts = JSON.parse(text) as ProgrammeFacts;
    if (facts.formatVersion !== FORMAT_VERSION)
      throw new Error(`${this.path} has format ${facts.formatVersion}`);
    return facts;
  }

  /** The index; a last line cut short by a crash is passed over. */
  async readIndex(): Promise<IndexedSegment[]> {
    const text = await readFile(join(this.path, INDEX), 'utf8').catch(() => '');
    return text.split('\n').flatMap((line) => {
      try {
        return [Joi.attempt(JSON.parse(line), indexedSegment)];
      } catch {
        return [];
      }
    });
  }

  /** Waits for everything written so far. */
  settled(): Promise<void> {
    return this.#queue;
  }

  #enqueue(write: () => Promise<void>): Promise<void> {
    this.#queue = this.#queue.then(write).then(
      () => void (this.#failure = null),
      (error: unknown) => void (this.#failure = error instanceof Error ? error : new Error(String(error))),
    );
    return this.#queue;
  }
}

/** Where a programme goes on after what its folder holds; a part number may have been promised beyond the last. */
export function startAfter(segments: readonly IndexedSegment[]): PackagerStart {
  const last = segments.at(-1);
  if (!last) return { nextSequence: 0, nextPart: 0, nextInit: 0, endMs: 0 };
  return {
    nextSequence: last.sequence + 1,
    nextPart: last.firstPart + last.partCount + PARTS_BEYOND,
    nextInit: last.initNumber + 1,
    endMs: last.programmeMs + last.durationSeconds * 1000,
  };
}
/** More parts than an unfinished segment can have had. */
const PARTS_BEYOND = 100;

/** Every programme that the media folder holds: `[houseId, programmeId]`. */
export async function listRecordings(mediaFolder: string): Promise<[string, string][]> {
  const houses = await readdir(mediaFolder).catch(() => []);
  const lists = await Promise.all(
    houses.filter(isId).map(async (houseId) => {
      const programmes = await readdir(join(mediaFolder, houseId));
      return programmes.filter(isId).map((programmeId): [string, string] => [houseId, programmeId]);
    }),
  );
  return lists.flat();
}
