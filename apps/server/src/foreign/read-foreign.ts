import { resolve } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { ReadPage } from '@heliphon/core/websites/judge-page';
import type { CalendarEntry } from './read-calendar.js';
import { ProblemError } from '../platform/problems.js';

/** Bundled apart: it runs in a thread of its own. */
const SCRIPT = resolve('dist/server/foreign-reader.js');
/** A year of a busy house takes a tenth of a second. */
const READ_WITHIN_MS = 4000;
const LIMITS = { maxOldGenerationSizeMb: 192, maxYoungGenerationSizeMb: 32, stackSizeMb: 4 } as const;

/** A text of somebody else's, to be read: a calendar, or a page of a website. */
export type ForeignText =
  | {
      readonly kind: 'calendar';
      readonly text: string;
      /** For times without a zone of their own. */
      readonly houseZone: string;
      readonly nowMs: number;
    }
  | { readonly kind: 'page'; readonly text: string };

/** What is found in it. */
export interface ForeignFound {
  readonly calendar: readonly CalendarEntry[];
  readonly page: ReadPage;
}

export type ForeignAnswer =
  | { readonly found: ForeignFound[keyof ForeignFound] }
  | { readonly problem: Pick<ProblemError, 'code' | 'params'> };

/**
 * Reads a text that somebody else wrote, in a thread with limits on time and memory: whatever stands in it, nobody else
 * waits for it.
 * @throws ProblemError 422 for what cannot be read, or takes too long
 */
export async function readForeign<T extends ForeignText>(wish: T): Promise<ForeignFound[T['kind']]> {
  const worker = new Worker(SCRIPT, { workerData: wish, resourceLimits: LIMITS, execArgv: [] });
  try {
    const answer = await answerOf(worker, wish.kind);
    if ('problem' in answer) throw new ProblemError(422, answer.problem.code, answer.problem.params);
    return answer.found as ForeignFound[T['kind']];
  } finally {
    await worker.terminate();
  }
}

function answerOf(worker: Worker, kind: ForeignText['kind']): Promise<ForeignAnswer> {
  return new Promise((done, reject) => {
    const tooMuch = (): void => reject(new ProblemError(422, `${kind}-too-much`));
    const timer = setTimeout(tooMuch, READ_WITHIN_MS);
    worker.once('message', (answer: ForeignAnswer) => {
      clearTimeout(timer);
      done(answer);
    });
    // Out of memory, above all.
    worker.once('error', () => {
      clearTimeout(timer);
      tooMuch();
    });
  });
}
