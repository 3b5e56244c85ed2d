const FIRST_PAUSE_MS = 1000;
const LONGEST_PAUSE_MS = 30_000;

/** How long to wait after so many failures in a row: twice as long each time, up to half a minute. */
export const pauseAfter = (failures: number): number =>
  Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (failures - 1));

interface Trouble {
  readonly failures: number;
  readonly nextTryAtMs: number;
}

/** What has failed, by its key, and when it may be tried again; times are monotone. */
export type Troubles = ReadonlyMap<string, Trouble>;
export const NO_TROUBLES: Troubles = new Map();

export const mayTry = (troubles: Troubles, key: string, nowMs: number): boolean =>
  (troubles.get(key)?.nextTryAtMs ?? -Infinity) <= nowMs;

export function afterFailure(troubles: Troubles, key: string, nowMs: number): Troubles {
  const failures = (troubles.get(key)?.failures ?? 0) + 1;
  return new Map(troubles).set(key, { failures, nextTryAtMs: nowMs + pauseAfter(failures) });
}

/** What is not asked for any more is forgotten. */
export const among = (troubles: Troubles, keys: ReadonlySet<string>): Troubles =>
  new Map([...troubles].filter(([key]) => keys.has(key)));

/** It has been done. */
export function without(troubles: Troubles, key: string): Troubles {
  if (!troubles.has(key)) return troubles;
  const rest = new Map(troubles);
  rest.delete(key);
  return rest;
}
