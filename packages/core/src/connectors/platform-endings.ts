import type { Fault, FaultKind } from '../faults/fault.js';
import type { PostingEnding } from './posting-step.js';

/** A platform ended a posting while its event went on. */
export interface PlatformEnding {
  readonly destinationId: string;
  readonly because: PostingEnding;
  readonly atMs: number;
}

/** What a node sees of it. */
const SEEN_AS: ReadonlySet<FaultKind> = new Set([
  'place-closed',
  'place-refused',
  'place-unreachable',
  'place-slow',
]);
/** We ask a platform a moment after the node has noticed. */
const KNOWN_WITHIN_MS = 30_000;

/** The faults that are not simply a platform ending a posting, as it always does. */
export const withoutEndings = (
  faults: readonly Fault[],
  endings: readonly PlatformEnding[],
): readonly Fault[] =>
  faults.filter(
    ({ kind, subjectId, fromMs }) =>
      !SEEN_AS.has(kind) ||
      !endings.some(
        ({ destinationId, atMs }) =>
          destinationId === subjectId && fromMs <= atMs && atMs - fromMs < KNOWN_WITHIN_MS,
      ),
  );
