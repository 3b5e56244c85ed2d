import type { Logger } from 'pino';
import Joi from 'joi';
import type { DesiredJoin } from '@heliphon/core/control/desired-state';
import { inOrder, segmentsToJoin } from '@heliphon/core/packaging/legs';
import { PersistentWork, type WantKeeper } from '../control/want-keeper.js';
import { indexedSegment, type IndexedSegment, type RecordingFolder } from './recording-folder.js';

/** Under this name a node hands out the index of a recording, a line a segment. */
export const INDEX_FILE = 'index.jsonl';
/** A segment comes within this, or its node is away. */
const ANSWERS_WITHIN_MS = 20_000;

interface JoinerPorts {
  openFolder(join: DesiredJoin): Promise<RecordingFolder>;
  /** All of it is there; what was opened of the recording has to be reopened. */
  joined(join: DesiredJoin): Promise<void>;
}

/** Fetches what other nodes have of recordings that are kept here, one after another, until it is all there. */
export class Joiner implements WantKeeper<readonly DesiredJoin[], { readonly waiting: number }> {
  #wanted: readonly DesiredJoin[] = [];
  readonly #done = new Set<string>();
  readonly #work: PersistentWork;

  constructor(
    private readonly ports: JoinerPorts,
    private readonly log: Logger,
  ) {
    this.#work = new PersistentWork((signal) => this.#joinAll(signal), log);
  }

  apply(joins: readonly DesiredJoin[]): void {
    this.#wanted = joins;
    this.#work.begin();
  }

  facts(): { readonly waiting: number } {
    return { waiting: this.#missing.length };
  }

  stop(): Promise<void> {
    return this.#work.stop();
  }

  get #missing(): readonly DesiredJoin[] {
    return this.#wanted.filter((join) => !this.#done.has(keyOf(join)));
  }

  /** One that does not come holds up no other. */
  async #joinAll(signal: AbortSignal): Promise<boolean> {
    for (const join of this.#missing) {
      if (signal.aborted) break;
      try {
        await this.#joinOne(join, signal);
        this.#done.add(keyOf(join));
      } catch (error) {
        const { programmeId, nodeId } = join;
        this.log.info(
          { error: String(error), programmeId, nodeId },
          'A part of a recording has not come yet',
        );
      }
    }
    return this.#missing.length === 0;
  }

  async #joinOne(join: DesiredJoin, signal: AbortSignal): Promise<void> {
    const theirs = readIndexText((await this.#fetch(join, INDEX_FILE, signal)).toString());
    this.#requireWanted(join);
    const folder = await this.ports.openFolder(join);
    const missing = segmentsToJoin(await folder.readIndex(), inOrder(theirs));
    if (missing.length > 0) await folder.join(missing, (name) => this.#fetch(join, name, signal));
    await this.ports.joined(join);
  }

  /** @throws once it is not wanted any more: the recording may have been deleted meanwhile. */
  #requireWanted(join: DesiredJoin): void {
    if (!this.#wanted.some((one) => keyOf(one) === keyOf(join))) throw new Error('It is not wanted any more');
  }

  async #fetch(join: DesiredJoin, file: string, stopping: AbortSignal): Promise<Buffer> {
    this.#requireWanted(join);
    const signal = AbortSignal.any([stopping, AbortSignal.timeout(ANSWERS_WITHIN_MS)]);
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
