import type { Failure } from './test-failures.js';

/** Rooms whose outcome may hang on how the machine is doing: what fails there is run once more, alone. */
const SECOND_CHANCE: ReadonlySet<string> = new Set(['server', 'media', 'journeys', 'faults']);
/** So many may be unsteady; more say that something is wrong with the run itself. */
export const MOST_UNSTEADY = 5;

export interface Verdict {
  /** Failed both times, or in a room without a second chance. */
  readonly failed: readonly Failure[];
  /** Failed once and passed once. */
  readonly unsteady: readonly Failure[];
  readonly passes: boolean;
}

/** What is to be run once more, by room. */
export function secondChances(failures: readonly Failure[]): Map<string, Failure[]> {
  const chances = new Map<string, Failure[]>();
  for (const failure of failures)
    if (SECOND_CHANCE.has(failure.room))
      chances.set(failure.room, [...(chances.get(failure.room) ?? []), failure]);
  return chances;
}

/** @param second - what failed when the files of the first were run once more, alone, on fresh ground */
export function judge(first: readonly Failure[], second: readonly Failure[]): Verdict {
  const final = first.filter(({ room }) => !SECOND_CHANCE.has(room));
  const again = second.filter((later) => first.some((failure) => covers(later, failure)));
  const unsteady = [
    ...first.filter((failure) => !final.includes(failure) && !again.some((later) => covers(later, failure))),
    ...second.filter((later) => !again.includes(later)),
  ];
  const failed = [...final, ...again];
  return { failed, unsteady, passes: failed.length === 0 && unsteady.length <= MOST_UNSTEADY };
}

/** Whether the later is the same test again, or the whole file or room that it stands in. */
function covers(later: Failure, failure: Failure): boolean {
  if (later.room !== failure.room) return false;
  if (later.file === null || failure.file === null) return true;
  if (later.file !== failure.file || later.project !== failure.project) return false;
  return later.test === null || failure.test === null || later.test === failure.test;
}
