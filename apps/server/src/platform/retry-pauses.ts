/** Growing pauses between tries to reach others, in ms; after the last it is given up. */
const PAUSES_MS = [10_000, 60_000, 5 * 60_000, 30 * 60_000, 2 * 3_600_000, 8 * 3_600_000] as const;

/** How long to wait after so many tries have failed; `null`: no longer. */
export const pauseAfter = (attempts: number): number | null => PAUSES_MS[attempts - 1] ?? null;
