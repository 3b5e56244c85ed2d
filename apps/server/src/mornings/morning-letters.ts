import { Inject, Injectable } from '@nestjs/common';
import { Between, type EntityManager, In, IsNull } from 'typeorm';
import { addDays, hourOfDay, startOfDay } from '@heliphon/core/schedule/civil-time';
import { openChecks } from '@heliphon/core/readiness/open-checks';
import { dutiesOf } from '../schedule/event-duties.js';
import { EventEntity } from '../tables/event.entity.js';
import { EventViews } from '../events/event-views.js';
import { ownUrl } from '../platform/public-url.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, type HouseScope, systemContext } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { dayOf } from '../series/series-dates.js';
import { MorningEntity } from '../tables/morning.entity.js';
import { type MorningEvent, morningLetter } from './morning-letter-text.js';
import { PostOffice } from '../letters/post-office.js';

const EVERY_MS = 5000;
const FROM_HOUR = 7;
/** Later than this it is no morning any more; the letter waits for the next. */
const UNTIL_HOUR = 12;
/** What is open is worth a letter so many days ahead. */
const AHEAD_DAYS = 3;
const MOST_EVENTS = 100;
/** Who answers for events, and who sits at them. */
const READERS = ['owner', 'producer', 'operator'] as const;

type Dated = MorningEvent & { readonly personIds: readonly string[] };

/** Writes to the people of a house in the morning what is on, and what is still to do for it. */
@Injectable()
export class MorningLetters extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Morning letters wait';

  constructor(
    private readonly database: Database,
    private readonly views: EventViews,
    private readonly post: PostOffice,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {
    super();
  }

  async work(): Promise<void> {
    const manager = this.database.installation;
    const nowMs = this.clock.nowMs();
    const houses = await manager.find(HouseEntity, { select: { id: true, zone: true } });
    const told = new Map((await manager.find(MorningEntity)).map(({ houseId, toldOn }) => [houseId, toldOn]));
    for (const { id, zone } of houses) {
      const hour = hourOfDay(nowMs, zone);
      const isDue = hour >= FROM_HOUR && hour < UNTIL_HOUR && told.get(id) !== dayOf(nowMs, zone);
      if (isDue) await this.#tellHouse(id, nowMs);
    }
  }

  async #tellHouse(houseId: string, nowMs: number): Promise<void> {
    await this.database.inHouse(systemContext(houseId, 'clock'), async (scope, manager) => {
      // One server at a time, and once a day.
      const house = await manager.findOne(HouseEntity, {
        where: { id: houseId },
        lock: { mode: 'pessimistic_write' },
      });
      const toldOn = house && dayOf(nowMs, house.zone);
      if (!house || (await manager.findOneBy(MorningEntity, { houseId, toldOn: toldOn! }))) return;
      await manager.save(MorningEntity, { houseId, toldOn: toldOn! });
      const midnightMs = addDays(startOfDay(nowMs, house.zone), 1, house.zone);
      const events = await this.#events(
        scope,
        manager,
        nowMs,
        addDays(midnightMs, AHEAD_DAYS - 1, house.zone),
      );
      const today = events.filter(({ startsAtMs }) => startsAtMs < midnightMs);
      const soon = events.filter(
        ({ startsAtMs, checks }) => startsAtMs >= midnightMs && openChecks(checks).length > 0,
      );
      if (today.length === 0 && soon.length === 0) return;
      for (const { name, email } of await this.#readers(scope, manager, today)) {
        const { name: houseName, zone } = house;
        await this.post.write(manager, email, morningLetter({ name, houseName, zone, today, soon }));
      }
    });
  }

  async #events(scope: HouseScope, manager: EntityManager, fromMs: number, toMs: number): Promise<Dated[]> {
    const events = await scope.find(EventEntity, {
      where: {
        startsAtMs: Between(fromMs, toMs - 1),
        state: In(['planned', 'doors', 'cancelled']),
        rehearsalOf: IsNull(),
        isDraft: false,
      },
      order: { startsAtMs: 'ASC' },
      take: MOST_EVENTS,
    });
    const checks = await this.views.checksOf(scope, events);
    const duties = (
      await dutiesOf(
        scope,
        events.map(({ id }) => id),
      )
    ).filter(({ answer }) => answer !== 'no');
    const ids = [...new Set(duties.map(({ personId }) => personId))];
    const people = ids.length > 0 ? await manager.findBy(PersonEntity, { id: In(ids) }) : [];
    return events.map((event) => {
      const own = duties.filter(({ eventId }) => eventId === event.id);
      return {
        title: event.title,
        startsAtMs: event.startsAtMs,
        stopsAtMs: event.stopsAtMs,
        isCancelled: event.state === 'cancelled',
        checks: checks.get(event.id) ?? [],
        personIds: own.map(({ personId }) => personId),
        people: own.map(({ duty, personId, answer }) => ({
          duty,
          name: people.find(({ id }) => id === personId)?.name ?? '',
          isSure: answer === 'yes',
        })),
        link: `${ownUrl(this.config)}/events/${event.id}`,
      };
    });
  }

  /** Those who want it: owners, producers, operators, and the people on duty today. */
  async #readers(
    scope: HouseScope,
    manager: EntityManager,
    today: readonly Dated[],
  ): Promise<PersonEntity[]> {
    const members = await scope.find(MembershipEntity, { where: { morningLetter: true } });
    const onDuty = new Set(today.flatMap(({ personIds }) => personIds));
    const ids = members
      .filter(({ personId, roles }) => onDuty.has(personId) || READERS.some((role) => roles.includes(role)))
      .map(({ personId }) => personId);
    return ids.length > 0 ? manager.findBy(PersonEntity, { id: In(ids) }) : [];
  }
}
