import { assertNever } from '../result.js';

/** Why a destination is in trouble, as the media node can tell. */
export const DESTINATION_REASONS = [
  'refused',
  'unreachable',
  'not-secure',
  'inner-address',
  'broke-off',
  'stalled',
] as const;
export type DestinationReason = (typeof DESTINATION_REASONS)[number];

/** What the way to one place is doing. */
export type DestinationState =
  /** Before air, or no picture has come yet. */
  | { readonly state: 'waiting' }
  | { readonly state: 'connecting'; readonly attempt: number }
  | { readonly state: 'going-out'; readonly sinceMs: number }
  | {
      readonly state: 'troubled';
      readonly reason: DestinationReason;
      /** The receiver's own words, without secrets. */
      readonly said: string | null;
      readonly attempt: number;
      readonly nextTryAtMs: number;
    }
  | { readonly state: 'stopped' };

export type DestinationEvent =
  | { readonly type: 'started'; readonly nowMs: number }
  | { readonly type: 'bytes-taken'; readonly nowMs: number }
  | {
      readonly type: 'failed';
      readonly reason: DestinationReason;
      readonly said: string | null;
      readonly nowMs: number;
    }
  | { readonly type: 'stopped' };

/** Growing pauses between tries, in ms; the last repeats. */
export const RETRY_PAUSES_MS = [2000, 4000, 8000, 15_000, 30_000] as const;
/** Going out for so long clears the count of failures. */
const STEADY_MS = 60_000;

/** The next state of the way to a place; what does not apply leaves it as it is. */
export function nextDestinationState(state: DestinationState, event: DestinationEvent): DestinationState {
  switch (event.type) {
    case 'started':
      return { state: 'connecting', attempt: attemptOf(state, event.nowMs) + 1 };
    case 'bytes-taken':
      return state.state === 'connecting' ? { state: 'going-out', sinceMs: event.nowMs } : state;
    case 'failed': {
      const attempt = Math.max(1, attemptOf(state, event.nowMs));
      const pauseMs = RETRY_PAUSES_MS[Math.min(attempt, RETRY_PAUSES_MS.length) - 1]!;
      const { reason, said, nowMs } = event;
      return { state: 'troubled', reason, said, attempt, nextTryAtMs: nowMs + pauseMs };
    }
    case 'stopped':
      return { state: 'stopped' };
    default:
      return assertNever(event);
  }
}

function attemptOf(state: DestinationState, nowMs: number): number {
  if (state.state === 'connecting' || state.state === 'troubled') return state.attempt;
  if (state.state === 'going-out') return nowMs - state.sinceMs >= STEADY_MS ? 0 : 1;
  return 0;
}
