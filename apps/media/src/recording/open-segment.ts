import { type FileHandle, open, rm } from 'node:fs/promises';
import { join } from 'node:path';
import Joi from 'joi';
import type { Part } from '@heliphon/core/packaging/packager';
import { segmentName } from '@heliphon/core/packaging/playlist';
import { readLines } from './read-lines.js';
import type { IndexedSegment } from './recording-folder.js';

/** Of the segment that is being written: its beginning, then a line for each part that is safe (`docs/recording.md`). */
const OPEN = 'open.jsonl';

/** What is known of a segment when it begins. */
export type SegmentBeginning = Pick<
  IndexedSegment,
  'sequence' | 'programmeMs' | 'utcMs' | 'initNumber' | 'discontinuity' | 'isSlate'
>;

const lineSchema = Joi.alternatives().try(
  Joi.object({
    sequence: Joi.number().integer().required(),
    programmeMs: Joi.number().required(),
    utcMs: Joi.number().required(),
    initNumber: Joi.number().integer().required(),
    discontinuity: Joi.boolean().required(),
    isSlate: Joi.valid(true),
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

/** A segment that is being written. Both files stay open as long as it is: opening them for each part costs more than writing. */
export class OpenSegment {
  private constructor(
    readonly sequence: number,
    private readonly media: FileHandle,
    private readonly lines: FileHandle,
  ) {}

  static async begin(folder: string, segment: SegmentBeginning): Promise<OpenSegment> {
    const media = await open(join(folder, segmentName(segment.sequence)), 'w');
    const lines = await open(join(folder, OPEN), 'w').catch(closing(media));
    const begun = new OpenSegment(segment.sequence, media, lines);
    await begun.#say(segment).catch(closing(begun));
    return begun;
  }

  /** Adds a part, then says so: what a line names is written, whatever happens next. */
  async add({ number, durationSeconds, bytes }: Part): Promise<void> {
    await this.media.writeFile(bytes);
    await this.#say({ part: number, durationSeconds, sizeBytes: bytes.byteLength });
  }

  async close(): Promise<void> {
    await Promise.all([this.media.close(), this.lines.close()]);
  }

  /** The segment that a crash left open in a folder, as far as its parts are whole; `null` where there is none. */
  static async leftIn(folder: string): Promise<IndexedSegment | null> {
    const [begun, ...parts] = await readLines<SegmentBeginning | SafePart>(join(folder, OPEN), lineSchema);
    return begun && 'sequence' in begun ? segmentOfParts(begun, parts as SafePart[]) : null;
  }

  /** Nothing is to be closed after a crash. */
  static forget(folder: string): Promise<void> {
    return rm(join(folder, OPEN), { force: true });
  }

  #say(line: SegmentBeginning | SafePart): Promise<void> {
    return this.lines.writeFile(`${JSON.stringify(line)}\n`);
  }
}

/** Holds on to nothing where a step of opening fails. */
const closing =
  (opened: { close: () => Promise<void> }) =>
  async (error: unknown): Promise<never> => {
    await opened.close();
    throw error;
  };

function segmentOfParts(begun: SegmentBeginning, parts: readonly SafePart[]): IndexedSegment | null {
  const first = parts[0];
  if (!first) return null;
  const { sequence, programmeMs, utcMs, initNumber, discontinuity, isSlate } = begun;
  return {
    sequence,
    programmeMs,
    utcMs,
    initNumber,
    discontinuity,
    ...(isSlate ? { isSlate } : {}),
    durationSeconds: parts.reduce((sum, part) => sum + part.durationSeconds, 0),
    firstPart: first.part,
    partCount: parts.length,
    sizeBytes: parts.reduce((sum, part) => sum + part.sizeBytes, 0),
  };
}
