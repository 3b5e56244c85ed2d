import type { Figures } from '@heliphon/core/control/observations';
import {
  packed,
  sampleOf,
  type SignalSample,
  summaryOf,
  unpacked,
} from '@heliphon/core/signal/signal-sample';
import { Injectable } from '@nestjs/common';
import { Between, IsNull, LessThan, Not } from 'typeorm';
import { Database } from '../platform/database.js';
import { EventEntity } from '../tables/event.entity.js';
import { SignalMinuteEntity } from '../tables/signal-minute.entity.js';

/** Figures come once a second; one that comes early is of the same second. */
const EVERY_MS = 900;
const MINUTE_MS = 60_000;
/** In memory only what has not been written down yet, and what is drawn all the time. */
const IN_MEMORY_MS = 20 * MINUTE_MS;
const ENDED_AFTER_MS = MINUTE_MS;
const SECONDS_KEPT_MS = 90 * 86_400_000;
/** The longest event and its doors, in minutes. */
const MOST_MINUTES = 30 * 60;

/** What the sources of programmes sent, second by second: the last minutes in memory, each whole minute in the database. */
@Injectable()
export class SignalHistory {
  readonly #samples = new Map<string, SignalSample[]>();

  constructor(private readonly database: Database) {}

  take({ atMs, programmes, sources }: Figures): void {
    for (const { programmeId, sourceId, state, viewers } of programmes) {
      if (state !== 'doors' && state !== 'air') continue;
      const samples = this.#samples.get(programmeId) ?? [];
      const last = samples.at(-1);
      if (last && atMs - last.atMs < EVERY_MS) continue;
      if (last && minuteOf(last.atMs) < minuteOf(atMs)) this.#keepMinute(programmeId, minuteOf(last.atMs));
      const report = sources.find((source) => source.sourceId === sourceId)?.report ?? null;
      samples.push(sampleOf(report, viewers, atMs));
      while (atMs - samples[0]!.atMs > IN_MEMORY_MS) samples.shift();
      this.#samples.set(programmeId, samples);
    }
    for (const [programmeId, samples] of this.#samples)
      if (atMs - samples.at(-1)!.atMs > ENDED_AFTER_MS) this.#finish(programmeId);
  }

  /** How many watched a programme at an instant. */
  viewersAt(programmeId: string, atMs: number): number {
    return this.#samples.get(programmeId)?.findLast((sample) => sample.atMs <= atMs)?.viewers ?? 0;
  }

  /** Lets go of seconds that nobody asks for any more; their minutes stay. */
  async tidy(nowMs: number): Promise<void> {
    const where = { atMs: LessThan(nowMs - SECONDS_KEPT_MS), seconds: Not(IsNull()) };
    await this.#minutes.update(where, { seconds: null });
  }

  /** The samples of an event between two instants, oldest first: seconds, or minutes where those are no more. */
  async of(
    { id: eventId, programmeId }: Pick<EventEntity, 'id' | 'programmeId'>,
    fromMs: number,
    toMs: number,
  ): Promise<SignalSample[]> {
    const fresh = (this.#samples.get(programmeId) ?? []).filter(({ atMs }) => atMs >= fromMs && atMs <= toMs);
    const keptToMs = fresh[0]?.atMs ?? toMs;
    const minutes =
      fresh.length > 0 && keptToMs - fromMs < EVERY_MS
        ? []
        : await this.#minutes.find({
            where: { eventId, atMs: Between(minuteOf(fromMs), keptToMs) },
            order: { atMs: 'ASC' },
            take: MOST_MINUTES,
          });
    const kept = minutes.flatMap(({ atMs, seconds, summary }) =>
      seconds ? unpacked(seconds, atMs) : [{ ...summary, atMs }],
    );
    return [...kept.filter(({ atMs }) => atMs >= fromMs && atMs < keptToMs), ...fresh];
  }

  /** A minute that cannot be stored is missing from what is shown after a restart, and from nothing else. */
  #keepMinute(programmeId: string, atMs: number): void {
    const samples = this.#samples.get(programmeId)!.filter((sample) => minuteOf(sample.atMs) === atMs);
    this.#store(programmeId, samples, atMs).catch(() => undefined);
  }

  async #store(programmeId: string, samples: readonly SignalSample[], atMs: number): Promise<void> {
    const manager = this.database.installation;
    const event = await manager.findOne(EventEntity, {
      where: { programmeId },
      select: { id: true, houseId: true },
    });
    if (!event) return;
    const { id: eventId, houseId } = event;
    const known = await this.#minutes.findOneBy({ eventId, atMs });
    // A server that was started within the minute, or another that has had its beginning.
    const all = [...(known?.seconds ? unpacked(known.seconds, atMs) : []), ...samples];
    const row = { eventId, houseId, atMs, summary: summaryOf(all, atMs), seconds: packed(all, atMs) };
    await this.#minutes.upsert(row, ['eventId', 'atMs']);
  }

  /** An event has ended, or its node is away: what is left of its last minute is written down. */
  #finish(programmeId: string): void {
    const { atMs } = this.#samples.get(programmeId)!.at(-1)!;
    this.#keepMinute(programmeId, minuteOf(atMs));
    this.#samples.delete(programmeId);
  }

  get #minutes() {
    return this.database.installation.getRepository(SignalMinuteEntity);
  }
}

const minuteOf = (atMs: number): number => Math.floor(atMs / MINUTE_MS) * MINUTE_MS;
