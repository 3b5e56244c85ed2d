import { PLAYER_MOMENTS, type PlayerMoment } from '@heliphon/contracts/viewer-reports';
import type { PlayerState } from './player-state.js';

const moments: PlayerMoment[] = [];

/** Keeps what the player did last, on this page alone, for somebody who wants to tell the house that something is wrong. */
export function logState({ status, lateSeconds, isMuted }: PlayerState, nowMs = Date.now()): void {
  const last = moments.at(-1);
  const late = Math.round(lateSeconds);
  if (last && last.status === status && last.isMuted === isMuted && Math.abs(last.lateSeconds - late) < 5)
    return;
  moments.push({ atMs: nowMs, status, lateSeconds: late, isMuted });
  if (moments.length > PLAYER_MOMENTS) moments.shift();
}

export const loggedMoments = (): readonly PlayerMoment[] => [...moments];
