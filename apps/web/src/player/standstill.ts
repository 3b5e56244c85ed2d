/** hls.js mends what it knows of within three seconds: a picture that stands for longer has hung. */
const PATIENCE_MS = 8000;
/** So little ahead of the position is no promise that it can be played. */
const SOMETHING_SECONDS = 1;

/** What is known of a player at one moment. */
export interface PlayerSigns {
  readonly nowMs: number;
  readonly positionSeconds: number;
  /** It is neither paused nor at its end. */
  readonly isMeantToPlay: boolean;
  /** The end of what there is to be played already, and the end of the playlist. */
  readonly bufferedUntilSeconds: number;
  readonly listedUntilSeconds: number;
  /** Of the fragment that is being loaded. */
  readonly receivedBytes: number;
}

/** When a player last gave a sign of life, and how it stood then. */
export type Standstill = Pick<PlayerSigns, 'positionSeconds' | 'receivedBytes'> & {
  readonly sinceMs: number;
};

/**
 * A picture that has something to play and does not move, or has something to load and loads nothing, is stuck. One
 * that waits for its encoder is not, nor one on a slow line.
 * @param before - `null` at the beginning, and after the page has slept.
 */
export function standstill(before: Standstill | null, signs: PlayerSigns): Standstill {
  const { nowMs, positionSeconds, receivedBytes, isMeantToPlay } = signs;
  const hasData = signs.bufferedUntilSeconds > positionSeconds + SOMETHING_SECONDS;
  const hasMore = signs.listedUntilSeconds > positionSeconds + SOMETHING_SECONDS;
  const hasMoved = positionSeconds !== before?.positionSeconds;
  const isLoading = !hasData && receivedBytes !== before?.receivedBytes;
  const isAlive = hasMoved || isLoading || !isMeantToPlay || !(hasData || hasMore);
  return { positionSeconds, receivedBytes, sinceMs: isAlive || !before ? nowMs : before.sinceMs };
}

export const isStuck = ({ sinceMs }: Standstill, nowMs: number): boolean => nowMs - sinceMs >= PATIENCE_MS;

/** Parts come three times a second: a loader that rests for longer, though more is listed, has lost its way. */
const REST_MS = 700;
const MORE_SECONDS = 0.6;
/** Until then it may find its way by itself. */
const NEARLY_OUT_SECONDS = 0.35;

/** How a live stream is being loaded. */
export interface LoadingSigns {
  /** How long nothing has been loading; 0 while something is. */
  readonly restingMs: number;
  /** What is left to play, and what is listed, from the position on. */
  readonly bufferedSeconds: number;
  readonly listedSeconds: number;
}

/** Whether loading has stopped while there is more to load, and what is left is nearly played. */
export const hasLostItsWay = ({ restingMs, bufferedSeconds, listedSeconds }: LoadingSigns): boolean =>
  restingMs > REST_MS &&
  bufferedSeconds < NEARLY_OUT_SECONDS &&
  listedSeconds - bufferedSeconds > MORE_SECONDS;
