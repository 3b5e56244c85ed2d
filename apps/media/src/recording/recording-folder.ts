import { appendFile, mkdir, readdir, readFile, rename, rm, truncate, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import Joi from 'joi';
import type { ActualFilm } from '@heliphon/core/control/film';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import { inOrder } from '@heliphon/core/packaging/legs';
import type { PackagerStart, Part, Segment } from '@heliphon/core/packaging/packager';
import { initName, segmentName } from '@heliphon/core/packaging/playlist';

/** Version of the files in a recording's folder; `docs/recording.md` describes them. */
const FORMAT_VERSION = 1;
const INDEX = 'index.jsonl';
const FACTS = 'programme.json';
/** The segment that is being written: its beginning, then a line for each part that is safe. */
const OPEN = 'open.jsonl';

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
  /** Counts the nodes that the programme had been at when this one began; absent in folders from before there were several. */
  readonly leg?: number;
  /** The film it begins with; absent in folders from before there were any. */
  readonly film?: ActualFilm | null;
}

const isId = (text: string): boolean => /^[0-9a-f-]{36}$/.test(text);

/** What is known of a segment when it begins. */
export type SegmentBeginning = Pick<
  IndexedSegment,
  'sequence' | 'programmeMs' | 'utcMs' | 'initNumber' | 'discontinuity'
>;

const openLine = Joi.alternatives().try(
  Joi.object({
    sequence: Joi.number().integer().required(),
    programmeMs: Joi.number().required(),
    utcMs: Joi.number().required(),
    initNumber: Joi.number().integer().required(),
    discontinuity: Joi.boolean().required(),
  }).unknown(),
  Joi.object({
    part: Joi.number().integer().required(),
    durationSeconds: Joi.number().required(),
    sizeBytes: Joi.number().integer().required(),
  }),
);
interface SafePart {
  readonly part: number;
  readonly durationSeconds: number;
  readonly sizeBytes: number;
}

/** A line of the index. */
export const indexedSegment = Joi.object<IndexedSegment>({
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

  /** Begins a segment's file. */
  beginSegment(segment: SegmentBeginning): void {
    void this.#enqueue(async () => {
      await writeFile(join(this.path, segmentName(segment.sequence)), '');
      await writeFile(join(this.path, OPEN), `${JSON.stringify(segment)}\n`);
    });
  }

  /** Adds a part to its segment, then says so: what a line names is on disk, whatever happens next. */
  writePart({ number, segmentSequence, durationSeconds, bytes }: Part): void {
    void this.#enqueue(async () => {
      await appendFile(join(this.path, segmentName(segmentSequence)), bytes);
      const line: SafePart = { part: number, durationSeconds, sizeBytes: bytes.byteLength };
      await appendFile(join(this.path, OPEN), `${JSON.stringify(line)}\n`);
    });
  }

  /** Says that a segment, all of whose parts have been written, is whole. */
  closeSegment(segment: IndexedSegment): Promise<void> {
    return this.#enqueue(() => appendFile(join(this.path, INDEX), `${JSON.stringify(segment)}\n`));
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

  /** The index, in the order of its numbers: what came from another node was added later. A segment that a crash left open is closed with the parts that are whole. */
  async readIndex(): Promise<IndexedSegment[]> {
    const segments = await this.#readLines<IndexedSegment>(INDEX, indexedSegment);
    const [begun, ...parts] = await this.#readLines<SegmentBeginning | SafePart>(OPEN, openLine);
    if (!begun || !('sequence' in begun) || segments.some(({ sequence }) => sequence === begun.sequence))
      return inOrder(segments);
    const recovered = segmentOfParts(begun, parts as SafePart[]);
    if (!recovered) return inOrder(segments);
    await truncate(join(this.path, segmentName(begun.sequence)), recovered.sizeBytes);
    await this.closeSegment(recovered);
    return inOrder([...segments, recovered]);
  }

  /** Puts segments of another node to it: each file first, then the lines that name them. */
  async join(
    segments: readonly IndexedSegment[],
    fetchFile: (name: string) => Promise<Uint8Array>,
  ): Promise<void> {
    const inits = new Set(segments.map(({ initNumber }) => initName(initNumber)));
    for (const name of [...inits, ...segments.map(({ sequence }) => segmentName(sequence))])
      await writeFile(join(this.path, name), await fetchFile(name));
    const lines = segments.map((segment) => `${JSON.stringify(segment)}\n`);
    await this.#enqueue(() => appendFile(join(this.path, INDEX), lines.join('')));
    if (this.#failure) throw this.#failure;
  }

  /** Takes the whole recording off the disk. */
  remove(): Promise<void> {
    return this.#enqueue(() => rm(this.path, { recursive: true, force: true }));
  }

  /** Waits for everything written so far. */
  settled(): Promise<void> {
    return this.#queue;
  }

  /** Lines of a file; one cut short by a crash is passed over. */
  async #readLines<T>(file: string, schema: Joi.Schema): Promise<T[]> {
    const text = await readFile(join(this.path, file), 'utf8').catch(() => '');
    return text.split('\n').flatMap((line): T[] => {
      try {
        return [Joi.attempt(JSON.parse(line), schema) as T];
      } catch {
        return [];
      }
    });
  }

  #enqueue(write: () => Promise<void>): Promise<void> {
    this.#queue = this.#queue.then(write).then(
      () => void (this.#failure = null),
      (error: unknown) => void (this.#failure = error instanceof Error ? error : new Error(String(error))),
    );
    return this.#queue;
  }
}

function segmentOfParts(begun: SegmentBeginning, parts: readonly SafePart[]): IndexedSegment | null {
  const first = parts[0];
  if (!first) return null;
  const { sequence, programmeMs, utcMs, initNumber, discontinuity } = begun;
  return {
    sequence,
    programmeMs,
    utcMs,
    initNumber,
    discontinuity,
    durationSeconds: parts.reduce((sum, part) => sum + part.durationSeconds, 0),
    firstPart: first.part,
    partCount: parts.length,
    sizeBytes: parts.reduce((sum, part) => sum + part.sizeBytes, 0),
  };
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
