import { codedAs, type SourceReport } from '../signal/source-report.js';

/** What a source usually sends, learnt while it sends; `null` until something has been seen. */
export interface Usual {
  readonly bitrateBps: number | null;
  readonly encodedFps: number | null;
  /** Of what could be heard, over about half a minute. */
  readonly lufs: number | null;
  /** How its picture and sound are coded, and for a moment after a change what that was before. */
  readonly format: string | null;
  readonly formatBefore: string | null;
  /** The connection that it was learnt from, and the last step's time on it. */
  readonly connectedSinceMs: number | null;
  readonly changedAtMs: number;
}

export const NOTHING_USUAL: Usual = {
  bitrateBps: null,
  encodedFps: null,
  lufs: null,
  format: null,
  formatBefore: null,
  connectedSinceMs: null,
  changedAtMs: 0,
};

/** Rates of the first seconds are of what was saved up. */
const SETTLES_MS = 5000;
const LEARNS_OVER_MS = 30_000;
/** While something is wrong it is learnt slowly: what lasts for minutes has become usual. */
const LEARNS_SLOWLY_OVER_MS = 300_000;
const HEARD_LUFS = -50;
const FORMAT_NAMED_MS = 5000;

/**
 * Learns from the next report.
 * @param isWell - nothing is wrong with the source.
 * @param stepMs - since the last report.
 */
export function learn(
  usual: Usual,
  report: SourceReport,
  { nowMs, stepMs, isWell }: { readonly nowMs: number; readonly stepMs: number; readonly isWell: boolean },
): Usual {
  const format = codedAs(report);
  const isOther = format !== null && usual.format !== null && format !== usual.format;
  // Another connection may well be set otherwise, and another size needs another rate.
  const isNew = isOther || usual.connectedSinceMs !== report.sinceMs;
  const known = isNew ? { ...NOTHING_USUAL, lufs: usual.lufs } : usual;
  const { changedAtMs } = isNew ? { changedAtMs: nowMs } : usual;
  const isStillNamed = !isNew && nowMs - changedAtMs < FORMAT_NAMED_MS;
  const isSettled = nowMs - changedAtMs >= SETTLES_MS;
  const share = Math.min(1, stepMs / (isWell ? LEARNS_OVER_MS : LEARNS_SLOWLY_OVER_MS));
  const { video, audio } = report;
  const heard = audio?.loudness?.shortTermLufs ?? null;
  return {
    bitrateBps: isSettled && video ? towards(known.bitrateBps, video.bitrateBps, share) : known.bitrateBps,
    encodedFps:
      isSettled && video ? towards(known.encodedFps, video.timing.encodedFps, share) : known.encodedFps,
    lufs:
      heard === null || heard < HEARD_LUFS
        ? known.lufs
        : towards(known.lufs, heard, Math.min(1, stepMs / LEARNS_OVER_MS)),
    format: format ?? usual.format,
    formatBefore: isOther ? usual.format : isStillNamed ? usual.formatBefore : null,
    connectedSinceMs: report.sinceMs,
    changedAtMs,
  };
}

const towards = (known: number | null, value: number, share: number): number =>
  known === null ? value : known + (value - known) * share;
