/** How much has arrived up to an instant, as the receiving end counts it. */
export interface UploadSample {
  readonly atMs: number;
  readonly receivedBytes: number;
}

/** How an upload is measured: buffers fill and the line finds its pace before anything counts. */
export const MEASURING = {
  warmUpMs: 2000,
  countedMs: 6000,
  /** A rate is that of so long a stretch. */
  windowMs: 1000,
  /** The rate that was reached or passed in all but this share of the stretches. */
  worstShare: 0.25,
} as const;

export const MEASURING_MS = MEASURING.warmUpMs + MEASURING.countedMs;

/**
 * The rate that a line keeps up, not its peak: of all stretches of a second after the warm-up, the rate that three
 * quarters of them reached.
 * @param samples - in order; several a second.
 * @returns bits per second; `null` while too little has been measured.
 */
export function steadyUploadBps(samples: readonly UploadSample[]): number | null {
  const first = samples[0];
  if (!first) return null;
  const counted = samples.filter(({ atMs }) => atMs - first.atMs >= MEASURING.warmUpMs);
  const rates: number[] = [];
  let from = 0;
  for (const end of counted) {
    while (from + 1 < counted.length && end.atMs - counted[from + 1]!.atMs >= MEASURING.windowMs) from += 1;
    const begin = counted[from]!;
    const lengthMs = end.atMs - begin.atMs;
    if (lengthMs >= MEASURING.windowMs)
      rates.push(((end.receivedBytes - begin.receivedBytes) * 8000) / lengthMs);
  }
  if (rates.length === 0) return null;
  rates.sort((a, b) => a - b);
  return Math.round(rates[Math.floor(rates.length * MEASURING.worstShare)]!);
}
