/** How near to the end of what has come a quick picture plays: a few pictures, so that one that is late stops nothing. */
const NEAR_SECONDS = 0.12;
/** Further behind, it plays a little faster, which nobody sees. */
const BEHIND_SECONDS = 0.25;
/** Further behind still, it jumps. */
const LOST_SECONDS = 0.8;
const CATCHING_UP_RATE = 1.1;

export interface Hold {
  /** Where to go, in seconds; `null`: on from here. */
  readonly seekTo: number | null;
  readonly rate: number;
}

/** How a player keeps up with what arrives. @param newest - the last stretch that has come, in seconds. */
export function heldBack(
  positionSeconds: number,
  [startSeconds, endSeconds]: readonly [startSeconds: number, endSeconds: number],
): Hold {
  const behind = endSeconds - positionSeconds;
  if (positionSeconds < startSeconds || behind > LOST_SECONDS || behind < 0)
    return { seekTo: Math.max(startSeconds, endSeconds - NEAR_SECONDS), rate: 1 };
  return { seekTo: null, rate: behind > BEHIND_SECONDS ? CATCHING_UP_RATE : 1 };
}
