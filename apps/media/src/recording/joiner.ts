import type { Logger } from 'pino';
import Joi from 'joi';
import type { DesiredJoin } from '@heliphon/core/control/desired-state';
import { inOrder, segmentsToJoin } from '@heliphon/core/packaging/legs';
import { indexedSegment, type IndexedSegment, type RecordingFolder } from './recording-folder.js';

/** Under this name a node hands out the index of a recording, a line a segment. */
export const INDEX_FILE = 'index.jsonl';
const TRY_AGAIN_MS = 10_000;
/** A segment comes within this, or its node is away. */
const ANSWERS_WITHIN_MS = 20_000;

interface JoinerPorts {
  openFolder(join: DesiredJoin): Promise<RecordingFolder>;
  /** All of it is there; what was opened of the recording has to be opened anew. */
  joined(join: DesiredJoin): Promise<void>;
}

/** Fetches what other nodes have of recordings that are kept here, one after another, until it is all there. */
export class Joiner {
  #wanted: readonly DesiredJoin[] = [];
  #working: Promise<void> | null = null;
  #timer: NodeJS.Timeout | null = null;
  readonly #done = new Set<string>();
  readonly #closing = new AbortController();

  constructor(
    private readonly ports: JoinerPorts,
    private readonly log: Logger,
  ) {}

  want(joins: readonly DesiredJoin[]): void {
    this.#wanted = joins;
    this.#working ??= this.#joinAll().finally(() => (this.#working = null));
  }

  async close(): Promise<void> {
    this.#closing.abort();
    if (this.#timer) clearTimeout(this.#timer);
    await this.#working;
  }

  async #joinAll(): Promise<void> {
    if (this.#timer) return;
    for (const join of this.#wanted) {
      if (this.#done.has(keyOf(join)) || this.#closing.signal.aborted) continue;
      try {
        await this.#joinOne(join);
        this.#done.add(keyOf(join));
      } catch (error) {
        const { programmeId, nodeId } = join;
        this.log.info(
          { error: String(error), programmeId, nodeId },
          'A part of a recording has not come yet',
        );
      }
    }
    if (this.#closing.signal.aborted || this.#wanted.every((join) => this.#done.has(keyOf(join)))) return;
    this.#timer = setTimeout(() => {
      this.#timer = null;
      this.want(this.#wanted);
    }, TRY_AGAIN_MS);
  }

  async #joinOne(join: DesiredJoin): Promise<void> {
    const theirs = readIndexText((await this.#fetch(join, INDEX_FILE)).toString());
    this.#requireWanted(join);
    const folder = await this.ports.openFolder(join);
    const missing = segmentsToJoin(await folder.readIndex(), inOrder(theirs));
    if (missing.length > 0) await folder.join(missing, (name) => this.#fetch(join, name));
    await this.ports.joined(join);
  }

  /** @throws once it is not wanted any more: the recording may have been deleted meanwhile. */
  #requireWanted(join: DesiredJoin): void {
    if (!this.#wanted.some((one) => keyOf(one) === keyOf(join))) throw new Error('It is not wanted any more');
  }

  async #fetch(join: DesiredJoin, file: string): Promise<Buffer> {
    this.#requireWanted(join);
    const signal = AbortSignal.any([this.#closing.signal, AbortSignal.timeout(ANSWERS_WITHIN_MS)]);
    const answer = await fetch(`${join.address}/${file}`, { signal });
    if (!answer.ok) throw new Error(`${file}: ${answer.status}`);
    return Buffer.from(await answer.arrayBuffer());
  }
}

const keyOf = ({ programmeId, nodeId }: DesiredJoin): string => `${programmeId} ${nodeId}`;

/** @throws for a line that is none of an index */
const readIndexText = (text: string): IndexedSegment[] =>
  text
    .split('\n')
    .filter(Boolean)
    .map((line) => Joi.attempt(JSON.parse(line), indexedSegment) as IndexedSegment);
