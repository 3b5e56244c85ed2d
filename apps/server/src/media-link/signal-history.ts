import type { Figures } from '@heliphon/core/control/observations';
import type { SignalSample } from '@heliphon/contracts/signal';

/** One sample so often; the database gets none of them. */
const EVERY_MS = 5000;
/** The longest event and its doors. */
const KEPT_MS = 30 * 3_600_000;

/** What each source sent over the last hours, in memory: for the desk's strips. */
export class SignalHistory {
  readonly #samples = new Map<string, SignalSample[]>();

  take({ atMs, sources }: Figures): void {
    for (const { sourceId, report } of sources) {
      const samples = this.#samples.get(sourceId) ?? [];
      const last = samples.at(-1);
      if (last && atMs - last.atMs < EVERY_MS) continue;
      samples.push({
        atMs,
        bitrateBps: (report.video?.bitrateBps ?? 0) + (report.audio?.bitrateBps ?? 0),
        frameRateFps: report.video?.frameRateFps ?? 0,
        shortTermLufs: report.audio?.loudness?.shortTermLufs ?? null,
      });
      while (atMs - samples[0]!.atMs > KEPT_MS) samples.shift();
      this.#samples.set(sourceId, samples);
    }
  }

  /** The samples of a source from an instant on, oldest first. */
  of(sourceId: string, fromMs: number): SignalSample[] {
    return (this.#samples.get(sourceId) ?? []).filter(({ atMs }) => atMs >= fromMs);
  }
}
