/** How a source that may feed a programme is doing, on the monotone clock. */
export interface SourcePresence {
  /** Its last picture; `null` before the first, and after its connection has closed. */
  readonly lastAtMs: number | null;
  /** Since when pictures have been coming without a pause. */
  readonly steadySinceMs: number | null;
}

export const ABSENT: SourcePresence = { lastAtMs: null, steadySinceMs: null };

/** After a longer pause, steady time is counted from the start again. */
const PAUSE_MS = 1000;
/** Pictures for this long show that a source is there. */
const THERE_AFTER_MS = 300;
/** The preferred source must be steady for this long before we switch back, so that we do not flap. */
const BACK_AFTER_MS = 5000;

export const afterPictureOf = (presence: SourcePresence, atMs: number): SourcePresence => ({
  lastAtMs: atMs,
  steadySinceMs:
    presence.lastAtMs !== null && atMs - presence.lastAtMs < PAUSE_MS ? presence.steadySinceMs : atMs,
});

export interface Choosing {
  /** Of the source that feeds the programme now, and of the one that stands by. */
  readonly feeding: SourcePresence;
  readonly waiting: SourcePresence;
  /** Whether the one that waits is the one that should feed it whenever it can. */
  readonly isWaitingPreferred: boolean;
  /** The preference was changed by hand, and has not been followed yet. */
  readonly isHurried: boolean;
  /** How long the one that feeds may be silent before the other takes over; `null`: only by hand. */
  readonly afterMs: number | null;
}

/** Whether the one that feeds has been silent for as long as the other waits. */
export const isSilent = ({ feeding, afterMs }: Choosing, nowMs: number): boolean =>
  afterMs !== null && (feeding.lastAtMs === null || nowMs - feeding.lastAtMs >= afterMs);

/** Whether the source that waits is to take over: from where a silent one stopped, otherwise at its next keyframe. */
export function shouldTakeOver(choosing: Choosing, nowMs: number): boolean {
  const { waiting, isWaitingPreferred, isHurried, afterMs } = choosing;
  const steadyMs = waiting.steadySinceMs === null ? -1 : nowMs - waiting.steadySinceMs;
  if (isHurried) return steadyMs >= 0;
  if (afterMs === null || steadyMs < THERE_AFTER_MS) return false;
  return isSilent(choosing, nowMs) || (isWaitingPreferred && steadyMs >= BACK_AFTER_MS);
}
