import {
  access,
  appendFile,
  copyFile,
  link,
  mkdir,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  truncate,
  writeFile,
} from 'node:fs/promises';
import { join } from 'node:path';
import Joi from 'joi';
import type { ActualFilm } from '@heliphon/core/control/film';
import type { TallyState } from '@heliphon/core/loudness/loudness-tally';
import type { SlateFormat } from '@heliphon/core/media/slate-format';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import { inOrder } from '@heliphon/core/packaging/legs';
import {
  type PackagerStart,
  type Part,
  PROGRAMME_BEGINNING,
  type Segment,
} from '@heliphon/core/packaging/packager';
import { partRuleOf, USUAL_PART_RULE } from '@heliphon/core/packaging/part-rule';
import { initName, segmentName } from '@heliphon/core/packaging/playlist';
import { RENDITION_NAME } from '@heliphon/core/ladder/renditions';
import { OpenSegment, type SegmentBeginning } from './open-segment.js';
import { readLines } from './read-lines.js';

/** Version of the files in a recording's folder; `docs/recording.md` describes them. */
const FORMAT_VERSION = 1;
const INDEX = 'index.jsonl';
const FACTS = 'programme.json';
const FACTS_BEFORE = 'programme.json.before';
const RENDITIONS = 'r';

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
  /** What was heard of it so far; absent in folders from before it was added up. */
  readonly loudness?: TallyState;
  /** `PART-TARGET` of its playlists, once it is chosen; absent in folders from before there were several. */
  readonly partTargetSeconds?: number;
  /** What its slate has to be like, once its picture has been seen. */
  readonly slateFormat?: SlateFormat;
}

/** `null` for what is empty, torn, or none of ours. */
function readFactsText(text: string): ProgrammeFacts | null {
  try {
    const facts = JSON.parse(text) as Partial<ProgrammeFacts> | null;
    const isOurs = facts?.formatVersion !== FORMAT_VERSION || facts.life !== undefined;
    return typeof facts?.formatVersion === 'number' && isOurs ? (facts as ProgrammeFacts) : null;
  } catch {
    return null;
  }
}

const isId = (text: string): boolean => /^[0-9a-f-]{36}$/.test(text);

/** A line of the index. */
export const indexedSegment = Joi.object<IndexedSegment>({
  sequence: Joi.number().integer().required(),
  programmeMs: Joi.number().required(),
  utcMs: Joi.number().required(),
  durationSeconds: Joi.number().required(),
  initNumber: Joi.number().integer().required(),
  discontinuity: Joi.boolean().required(),
  independent: Joi.boolean(),
  isSlate: Joi.valid(true),
  firstPart: Joi.number().integer().required(),
  partCount: Joi.number().integer().required(),
  sizeBytes: Joi.number().integer().required(),
});

/** The folder of one programme's recording, `media/{house}/{programme}`. */
export class RecordingFolder {
  /** Writes follow one another; a failed one does not hold up the next. */
  #queue: Promise<void> = Promise.resolve();
  #failure: Error | null = null;
  /** Segments with a part that could not be written: they are never said to be whole. */
  readonly #torn = new Set<number>();
  #open: OpenSegment | null = null;

  private constructor(readonly path: string) {}

  static async open(mediaFolder: string, houseId: string, programmeId: string): Promise<RecordingFolder> {
    if (!isId(houseId) || !isId(programmeId)) throw new Error('House and programme are named by UUIDs');
    const path = join(mediaFolder, houseId, programmeId);
    await mkdir(path, { recursive: true });
    return new RecordingFolder(path);
  }

  /** Where a smaller picture of it is kept. */
  rendition(name: string): RecordingFolder {
    return new RecordingFolder(join(this.path, RENDITIONS, name));
  }

  /** The smaller pictures of it that are kept. */
  async renditions(): Promise<string[]> {
    const names = await readdir(join(this.path, RENDITIONS)).catch(() => []);
    return names.filter((name) => RENDITION_NAME.test(name));
  }

  /** Makes sure that it can be written to. */
  make(): void {
    void this.#enqueue(async () => void (await mkdir(this.path, { recursive: true })));
  }

  /** What a write failed with, for instance a full disk, until a whole segment has been kept since. */
  get failure(): Error | null {
    return this.#failure;
  }

  writeInit(number: number, bytes: Uint8Array): void {
    void this.#enqueue(() => writeFile(join(this.path, initName(number)), bytes));
  }

  /** Begins a segment's file. */
  beginSegment(segment: SegmentBeginning): void {
    void this.#enqueueOf(segment.sequence, async () => {
      await this.#closeOpen();
      this.#open = await OpenSegment.begin(this.path, segment);
    });
  }

  writePart(part: Part): void {
    void this.#enqueueOf(part.segmentSequence, async () => {
      if (this.#torn.has(part.segmentSequence)) return;
      if (this.#open?.sequence !== part.segmentSequence) throw new Error('Its segment was not begun');
      await this.#open.add(part);
    });
  }

  /**
   * Says that a segment is whole, where all of its parts have been written; else takes away what there is of it.
   * @returns whether it was kept
   */
  async closeSegment(segment: IndexedSegment): Promise<boolean> {
    let isKept = false;
    await this.#enqueueOf(segment.sequence, async () => {
      await this.#closeOpen();
      if (this.#torn.has(segment.sequence)) {
        await OpenSegment.forget(this.path);
        await rm(join(this.path, segmentName(segment.sequence)), { force: true });
        return;
      }
      await appendFile(join(this.path, INDEX), `${JSON.stringify(segment)}\n`);
      this.#failure = null;
      isKept = true;
    });
    this.#torn.delete(segment.sequence);
    return isKept;
  }

  writeFacts(facts: Omit<ProgrammeFacts, 'formatVersion'>): Promise<void> {
    return this.#enqueue(async () => {
      const next = join(this.path, `${FACTS}.next`);
      const text = JSON.stringify({ formatVersion: FORMAT_VERSION, ...facts });
      // On the disk before it takes the other's place: a machine that loses its power has one or the other.
      await writeFile(next, text, { flush: true });
      await rename(join(this.path, FACTS), join(this.path, FACTS_BEFORE)).catch(() => undefined);
      await rename(next, join(this.path, FACTS));
    });
  }

  /**
   * What is known of the programme; `null` where nothing is. A file that cannot be read is set aside, and the one before
   * it counts.
   * @param onUnreadable - hears where the file was put
   * @throws Error for a folder of a later format
   */
  async readFacts(onUnreadable: (path: string) => void = () => undefined): Promise<ProgrammeFacts | null> {
    for (const name of [FACTS, FACTS_BEFORE]) {
      const path = join(this.path, name);
      const text = await readFile(path, 'utf8').catch(() => null);
      if (text === null) continue;
      const facts = readFactsText(text);
      if (facts && facts.formatVersion !== FORMAT_VERSION)
        throw new Error(`${this.path} has format ${facts.formatVersion}`);
      if (facts) return facts;
      const aside = `${path}.unreadable-${Date.now()}`;
      await rename(path, aside);
      onUnreadable(aside);
    }
    return null;
  }

  /** The index, in the order of its numbers: what came from another node was added later. A segment that a crash left open is closed with the parts that are whole. */
  async readIndex(): Promise<IndexedSegment[]> {
    const segments = await readLines<IndexedSegment>(join(this.path, INDEX), indexedSegment);
    const recovered = await OpenSegment.leftIn(this.path);
    if (!recovered || segments.some(({ sequence }) => sequence === recovered.sequence))
      return inOrder(segments);
    const file = join(this.path, segmentName(recovered.sequence));
    // A crash in the middle of a deletion may have left only the lines that tell of it.
    if (!(await isThere(file))) return inOrder(segments);
    await truncate(file, recovered.sizeBytes);
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

  /** The segment that is being written, as far as its parts are safe; `null` where there is none. */
  async readOpen(): Promise<IndexedSegment | null> {
    let open: IndexedSegment | null = null;
    await this.#enqueue(async () => {
      open = this.#open && (await OpenSegment.leftIn(this.path));
    });
    return open;
  }

  /**
   * Takes segments over from another recording here. What is whole is linked: it takes no room, and stays when the other
   * recording goes. What is still being written is copied as far as it is known.
   */
  async takeFrom(
    other: RecordingFolder,
    segments: readonly IndexedSegment[],
    open: number | null,
  ): Promise<void> {
    const inits = new Set(segments.map(({ initNumber }) => initName(initNumber)));
    for (const name of inits) await linkOrCopy(join(other.path, name), join(this.path, name));
    for (const { sequence, sizeBytes } of segments) {
      const [from, to] = [other, this].map(({ path }) => join(path, segmentName(sequence))) as [
        string,
        string,
      ];
      if (sequence !== open) await linkOrCopy(from, to);
      else {
        await copyFile(from, to);
        await truncate(to, sizeBytes);
      }
    }
    await writeFile(
      join(this.path, INDEX),
      segments.map((segment) => `${JSON.stringify(segment)}\n`).join(''),
    );
  }

  /** Takes the whole recording off the disk. */
  remove(): Promise<void> {
    return this.#enqueue(async () => {
      await this.#closeOpen();
      await rm(this.path, { recursive: true, force: true });
    });
  }

  /** Nothing follows for now: waits for everything written so far, and holds no file open. */
  close(): Promise<void> {
    return this.#enqueue(() => this.#closeOpen());
  }

  /** Waits for everything written so far. */
  settled(): Promise<void> {
    return this.#queue;
  }

  async #closeOpen(): Promise<void> {
    const open = this.#open;
    this.#open = null;
    await open?.close();
  }

  #enqueue(write: () => Promise<void>): Promise<void> {
    this.#queue = this.#queue.then(write).catch((error: unknown) => {
      this.#failure = error instanceof Error ? error : new Error(String(error));
    });
    return this.#queue;
  }

  #enqueueOf(sequence: number, write: () => Promise<void>): Promise<void> {
    return this.#enqueue(() =>
      write().catch((error: unknown) => {
        this.#torn.add(sequence);
        throw error;
      }),
    );
  }
}

const isThere = (file: string): Promise<boolean> =>
  access(file).then(
    () => true,
    () => false,
  );

/** Some file systems know no links. */
async function linkOrCopy(from: string, to: string): Promise<void> {
  await rm(to, { force: true });
  await link(from, to).catch(() => copyFile(from, to));
}

/** Where a programme stopped: the numbers that come next, and how far its time had run. */
export interface StoppedAt extends PackagerStart {
  readonly endMs: number;
}

/** Where a programme goes on after what its folder holds; a part number may have been promised beyond the last. */
export function startAfter(segments: readonly IndexedSegment[], partTargetSeconds?: number): StoppedAt {
  const last = segments.at(-1);
  const partRule = partTargetSeconds === undefined ? null : partRuleOf(partTargetSeconds);
  if (!last) return { ...PROGRAMME_BEGINNING, partRule, endMs: 0 };
  return {
    nextSequence: last.sequence + 1,
    nextPart: last.firstPart + last.partCount + PARTS_BEYOND,
    nextInit: last.initNumber + 1,
    endMs: last.programmeMs + last.durationSeconds * 1000,
    // Before there were several, there was one.
    partRule: partRule ?? USUAL_PART_RULE,
  };
}
/** More parts than an unfinished segment can have had. */
const PARTS_BEYOND = 100;

/** Of these recordings the one with smaller pictures that was last written to longest ago; `null` where none has any. */
export async function oldestWithSizes(
  mediaFolder: string,
  recordings: readonly (readonly [programmeId: string, houseId: string])[],
): Promise<string | null> {
  const found = await Promise.all(
    recordings.map(async ([programmeId, houseId]) => {
      const folder = join(mediaFolder, houseId, programmeId, RENDITIONS);
      const names = await readdir(folder).catch(() => []);
      return names.length > 0 ? [{ programmeId, changedAtMs: (await stat(folder)).mtimeMs }] : [];
    }),
  );
  const [oldest] = found.flat().sort((one, other) => one.changedAtMs - other.changedAtMs);
  return oldest?.programmeId ?? null;
}

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
