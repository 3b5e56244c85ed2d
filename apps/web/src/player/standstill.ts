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
