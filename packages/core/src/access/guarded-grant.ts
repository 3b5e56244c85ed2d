import type { Grant } from './grant.js';

/** Every so often the text of a guarded grant changes; it is good for twice as long. */
export const GUARDED_EVERY_MS = 5 * 60_000;
/** Those who may still watch have so long to fetch the next text once somebody was put out. */
export const TURN_GRACE_MS = 30_000;
/** Many turns within a second reach no further ahead, so that each takes effect within a minute. */
const MOST_AHEAD_MS = 20_000;
/** No guarded grant from before this is good any more: turns need not be remembered for longer. */
export const TURNS_KEPT_MS = 2 * GUARDED_EVERY_MS + TURN_GRACE_MS;

/**
 * When what was granted in a house stops being good before its time, because fewer people may watch. `public` is the last
 * turn of what everybody had, `guarded` are the recent ones of what only some had, in order of time.
 */
export interface GrantTurns {
  readonly publicAtMs: number | null;
  readonly guardedAtMs: readonly number[];
}
export const NO_TURNS: GrantTurns = { publicAtMs: null, guardedAtMs: [] };

/** A turn at `nowMs`: of guarded grants, and of public ones as well where they were given to more than may now watch. */
export function turnGrants(
  { publicAtMs, guardedAtMs }: GrantTurns,
  nowMs: number,
  endsPublic: boolean,
): GrantTurns {
  // Grants carry whole seconds: those given in this one are of before, and what follows a turn in it is of its own.
  const nextMs = (Math.floor(nowMs / 1000) + 1) * 1000;
  const afterMs = Math.max(nextMs, (guardedAtMs.at(-1) ?? 0) + 1000);
  const atMs = Math.min(afterMs, nextMs + MOST_AHEAD_MS);
  return {
    publicAtMs: endsPublic ? atMs : publicAtMs,
    guardedAtMs: [...guardedAtMs.filter((turn) => turn > nowMs - TURNS_KEPT_MS), atMs],
  };
}

/** From and until when a guarded grant is good that is given now: the same for all who get one within five minutes. */
export function guardedTimes(turns: GrantTurns, nowMs: number): Pick<Grant, 'validFromMs' | 'expiresAtMs'> {
  const slotMs = Math.floor(nowMs / GUARDED_EVERY_MS) * GUARDED_EVERY_MS;
  return {
    validFromMs: Math.max(slotMs, turns.guardedAtMs.at(-1) ?? 0),
    expiresAtMs: slotMs + 2 * GUARDED_EVERY_MS,
  };
}

/** Whether a grant was given before a turn whose grace is over. */
export function isTurned(
  { class: grantClass, validFromMs }: Pick<Grant, 'class' | 'validFromMs'>,
  { publicAtMs, guardedAtMs }: GrantTurns,
  nowMs: number,
): boolean {
  const turns = grantClass === 'public' ? [publicAtMs ?? 0] : grantClass === 'guarded' ? guardedAtMs : [];
  return turns.some((turn) => validFromMs < turn && turn + TURN_GRACE_MS <= nowMs);
}
