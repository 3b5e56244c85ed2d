import { type Result, refuse, succeed } from '../result.js';

const MINUTE_MS = 60_000;
/** Left alone, a rehearsal ends by itself. */
export const REHEARSAL_MS = 120 * MINUTE_MS;
/** Less than this is no rehearsal. */
const LEAST_MS = 5 * MINUTE_MS;
/** The source is free again so long before the doors of the next event that wants it. */
const FREE_BEFORE_MS = MINUTE_MS;

/** The next doors are too near. */
export interface NoTimeToRehearse {
  readonly code: 'doors-too-near';
  readonly doorsAtMs: number;
}

/**
 * Until when a private rehearsal may go on: two hours, or until the source is needed.
 * @param doorsMs - of events to come that want the same source.
 */
export function rehearsalEnd(nowMs: number, doorsMs: readonly number[]): Result<number, NoTimeToRehearse> {
  const next = Math.min(...doorsMs.filter((ms) => ms > nowMs), Infinity);
  const endMs = Math.min(nowMs + REHEARSAL_MS, next - FREE_BEFORE_MS);
  return endMs - nowMs < LEAST_MS ? refuse({ code: 'doors-too-near', doorsAtMs: next }) : succeed(endMs);
}
