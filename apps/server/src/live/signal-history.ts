import type { Figures } from '@heliphon/core/control/observations';
import type { SignalSample } from '@heliphon/contracts/signal';
import { Injectable } from '@nestjs/common';
import { Between, LessThan } from 'typeorm';
import { Database } from '../platform/database.js';
import { SignalMinuteEntity } from '../tables/signal-minute.entity.js';

/** One sample so often in memory; the database gets minutes. */
const EVERY_MS = 5000;
const MINUTE_MS = 60_000;
/** The longest event and its doors. */
const KEPT_MS = 30 * 3_600_000;

/** What each source sent over the last hours, for the desk's strips: samples in memory, minutes from before a restart. */
@Injectable()
export class SignalHistory {
  readonly #samples = new Map<string, SignalSample[]>();

  constructor(private readonly database: Database) {}

  take({ atMs, sources }: Figures): void {
    for (const { sourceId, report } of sources) {
      const samples = this.#samples.get(sourceId) ?? [];
      const last = samples.at(-1);
      if (last && atMs - last.atMs < EVERY_MS) continue;
      if (last && minuteOf(last.atMs) < minuteOf(atMs)) this.#keepMinute(sourceId, minuteOf(last.atMs));
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

  /** Forgets sources that have sent nothing for longer than anybody looks back. */
  tidy(nowMs: number): void {
    for (const [sourceId, samples] of this.#samples)
      if (nowMs - samples.at(-1)!.atMs > KEPT_MS) this.#samples.delete(sourceId);
  }

  /** The samples of a source from an instant on, oldest first. */
  async of(sourceId: string, fromMs: number): Promise<SignalSample[]> {
    const samples = this.#samples.get(sourceId) ?? [];
    const beforeMs = (samples[0]?.atMs ?? Infinity) - MINUTE_MS;
    const minutes = await this.#minutes.find({
      where: { sourceId, atMs: Between(fromMs, Math.min(beforeMs, fromMs + KEPT_MS)) },
      order: { atMs: 'ASC' },
    });
    return [
      ...minutes.map(({ sourceId: _, ...sample }) => sample),
      ...samples.filter(({ atMs }) => atMs >= fromMs),
    ];
  }

  /** A minute that cannot be stored is missing from the strips after a restart, and from nothing else. */
  #keepMinute(sourceId: string, atMs: number): void {
    const samples = this.#samples.get(sourceId)!.filter((sample) => minuteOf(sample.atMs) === atMs);
    this.#store({ sourceId, ...averageOf(samples, atMs) }).catch(() => undefined);
  }

  async #store(minute: SignalMinuteEntity): Promise<void> {
    await this.#minutes.upsert(minute, ['sourceId', 'atMs']);
    await this.#minutes.delete({ sourceId: minute.sourceId, atMs: LessThan(minute.atMs - KEPT_MS) });
  }

  get #minutes() {
    return this.database.installation.getRepository(SignalMinuteEntity);
  }
}

const minuteOf = (atMs: number): number => Math.floor(atMs / MINUTE_MS) * MINUTE_MS;

function averageOf(samples: readonly SignalSample[], atMs: number): SignalSample {
  const mean = (values: readonly number[]): number =>
    values.reduce((sum, value) => sum + value, 0) / values.length;
  const heard = samples.map(({ shortTermLufs }) => shortTermLufs).filter((lufs) => lufs !== null);
  return {
    atMs,
    bitrateBps: Math.round(mean(samples.map(({ bitrateBps }) => bitrateBps))),
    frameRateFps: mean(samples.map(({ frameRateFps }) => frameRateFps)),
    shortTermLufs: heard.length > 0 ? mean(heard) : null,
  };
}
