import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { type EntityManager, In, LessThan, MoreThan } from 'typeorm';
import { type DutyDate, type DutyNews, dutyNews } from '@heliphon/core/duties/duties';
import { EventEntity } from '../tables/event.entity.js';
import { dutyNewsLetter } from './duty-letter-texts.js';
import { PostOffice } from '../letters/post-office.js';
import { ownUrl } from '../platform/public-url.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, type HouseScope, systemContext } from '../platform/database.js';
import { HouseEntity, PersonEntity } from '../platform/entities.js';
import { HAPPENED } from '../platform/happened.js';
import { FanOut } from '../platform/shared/fan-out.js';
import { DutiesService } from './duties.service.js';
import { ToldDutyEntity } from '../tables/duty.entity.js';
import { dutiesOf } from '../schedule/event-duties.js';

const EVERY_MS = 1000;
/** The planner is left to finish first: one letter, and not one for every press. */
const QUIET_MS = 60_000;
/** Where somebody is always planning, people hear of it all the same. */
const LONGEST_MS = 5 * 60_000;
const DAY_MS = 86_400_000;

/** Tells people what they are down for: compares how it is with what they were told, and writes the difference. */
@Injectable()
export class DutyLetters implements OnApplicationShutdown {
  readonly #log = new Logger('DutyLetters');
  /** Houses in which something has changed since then, and when to look at them. */
  readonly #changed = new Map<string, { readonly sinceMs: number; readonly dueAtMs: number }>();
  #timer: NodeJS.Timeout | null = null;
  #telling: Promise<void> | null = null;
  #stopListening = (): void => undefined;

  constructor(
    private readonly database: Database,
    private readonly duties: DutiesService,
    private readonly post: PostOffice,
    private readonly clock: Clock,
    private readonly fanOut: FanOut,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  start(): void {
    this.#stopListening = this.fanOut.listen(HAPPENED, ({ houseId, subjectKind }) => {
      if (subjectKind === 'event' || subjectKind === 'series') this.#lookLater(houseId);
    });
    void this.#lookEverywhere();
    this.#timer = setInterval(() => {
      this.#telling ??= this.#tellDue().finally(() => (this.#telling = null));
    }, EVERY_MS);
  }

  async onApplicationShutdown(): Promise<void> {
    this.#stopListening();
    if (this.#timer) clearInterval(this.#timer);
    await this.#telling;
  }

  /** What was planned before a restart may not have been told. */
  async #lookEverywhere(): Promise<void> {
    try {
      const houses = await this.database.installation.find(HouseEntity, { select: { id: true } });
      for (const { id } of houses) this.#lookLater(id);
    } catch (error) {
      this.#log.warn(`Nobody was looked for: ${String(error)}`);
    }
  }

  #lookLater(houseId: string): void {
    const nowMs = this.clock.nowMs();
    const { sinceMs } = this.#changed.get(houseId) ?? { sinceMs: nowMs };
    this.#changed.set(houseId, { sinceMs, dueAtMs: Math.min(nowMs + QUIET_MS, sinceMs + LONGEST_MS) });
  }

  async #tellDue(): Promise<void> {
    for (const [houseId, { dueAtMs }] of this.#changed) {
      if (dueAtMs > this.clock.nowMs()) continue;
      this.#changed.delete(houseId);
      try {
        await this.#tellHouse(houseId);
      } catch (error) {
        this.#log.warn(`Letters of duties wait: ${String(error)}`);
        this.#lookLater(houseId);
      }
    }
  }

  async #tellHouse(houseId: string): Promise<void> {
    await this.database.inHouse(systemContext(houseId, 'system'), async (scope, manager) => {
      // One server at a time.
      const house = await manager.findOne(HouseEntity, {
        where: { id: houseId },
        lock: { mode: 'pessimistic_write' },
      });
      if (!house) return;
      for (const news of await this.#news(scope)) {
        await this.#write(manager, house, news);
        for (const date of [...news.asked, ...news.changed])
          await scope.save(manager.create(ToldDutyEntity, { ...date, houseId }));
        for (const { eventId, duty, personId } of news.released)
          await scope.remove(ToldDutyEntity, { eventId, duty, personId });
      }
    });
  }

  async #news(scope: HouseScope): Promise<DutyNews[]> {
    const nowMs = this.clock.nowMs();
    await scope.remove(ToldDutyEntity, { startsAtMs: LessThan(nowMs - DAY_MS) });
    const events = await scope.find(EventEntity, {
      where: {
        startsAtMs: MoreThan(nowMs),
        state: In(['planned', 'doors', 'air', 'cancelled']),
        isDraft: false,
      },
    });
    const byId = new Map(events.map((event) => [event.id, event]));
    const asked = await dutiesOf(scope, [...byId.keys()]);
    const now = asked
      .filter(({ answer }) => answer !== 'no')
      .map(({ eventId, duty, personId }): DutyDate => {
        const { title, startsAtMs, state } = byId.get(eventId)!;
        return { eventId, duty, personId, title, startsAtMs, isOff: state === 'cancelled' };
      });
    const told = await scope.find(ToldDutyEntity);
    return dutyNews(
      now,
      told.filter(({ startsAtMs, eventId }) => startsAtMs > nowMs || byId.has(eventId)),
    );
  }

  async #write(manager: EntityManager, house: HouseEntity, news: DutyNews): Promise<void> {
    const { id, name, email } = await manager.findOneByOrFail(PersonEntity, { id: news.personId });
    const secret = await this.duties.secretOf({ personId: id, houseId: house.id });
    const link = `${ownUrl(this.config)}/duties/${secret}`;
    const facts = { name, houseName: house.name, zone: house.zone, link, ...news };
    await this.post.write(manager, email, dutyNewsLetter(facts));
  }
}
