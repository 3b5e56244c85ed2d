import { Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import { onDuty } from '@heliphon/core/duties/duties';
import type { OwnDuties, OwnDuty } from '@heliphon/contracts/duties';
import { CalendarsService, OWN_DUTIES, type Who } from '../calendars/calendars.service.js';
import type { EventEntity } from '../tables/event.entity.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import { HouseEntity, PersonEntity } from '../platform/entities.js';
import { notFound } from '../platform/problems.js';
import type { EventDutyEntity } from '../tables/duty.entity.js';
import { dutiesOf, eventsOfPerson } from '../schedule/event-duties.js';

const MOST_SHOWN = 100;

/** Somebody's own duties, and the address by which they see and answer them. */
@Injectable()
export class DutiesService {
  constructor(
    private readonly database: Database,
    private readonly calendars: CalendarsService,
    private readonly clock: Clock,
  ) {}

  /** The secret by which somebody sees and answers without signing in. */
  async secretOf(who: Who): Promise<string> {
    return (await this.calendars.secretOf(who, OWN_DUTIES)) ?? this.calendars.renew(who, OWN_DUTIES);
  }

  /** Who acts by such a secret. @throws ProblemError 404 */
  async actorOf(secret: string): Promise<Context> {
    const { kind, personId, houseId } = await this.calendars.ownerOf(secret);
    if (kind !== 'duties') throw notFound('calendar');
    const person = await this.database.installation.findOneByOrFail(PersonEntity, { id: personId });
    return { houseId, by: personId, byName: person.name, roles: [], scopes: null };
  }

  async own(ctx: Context, publicUrl: string): Promise<OwnDuties> {
    const manager = this.database.installation;
    const who = { personId: ctx.by, houseId: ctx.houseId };
    const house = await manager.findOneByOrFail(HouseEntity, { id: ctx.houseId });
    const events = await eventsOfPerson(manager, who, this.clock.nowMs(), MOST_SHOWN);
    const asked = await dutiesOf(
      this.database.house(ctx),
      events.map(({ id }) => id),
    );
    const names = await namesOf(manager, asked);
    return {
      personName: ctx.byName,
      houseName: house.name,
      calendar: `${publicUrl}/calendar/${await this.secretOf(who)}.ics`,
      items: events.flatMap((event) => {
        const here = asked.filter(({ eventId }) => eventId === event.id);
        return here
          .filter(({ personId }) => personId === ctx.by)
          .map((own) => ownDuty(event, own, here, names));
      }),
    };
  }
}

async function namesOf(
  manager: EntityManager,
  asked: readonly EventDutyEntity[],
): Promise<ReadonlyMap<string, string>> {
  const ids = [...new Set(asked.map(({ personId }) => personId))];
  const people = ids.length > 0 ? await manager.findBy(PersonEntity, { id: In(ids) }) : [];
  return new Map(people.map(({ id, name }) => [id, name]));
}

function ownDuty(
  event: EventEntity,
  own: EventDutyEntity,
  here: readonly EventDutyEntity[],
  names: ReadonlyMap<string, string>,
): OwnDuty {
  const standIn = onDuty(here).find((one) => one.duty === own.duty && one.personId !== own.personId);
  return {
    eventId: event.id,
    title: event.title,
    startsAtMs: event.startsAtMs,
    stopsAtMs: event.stopsAtMs,
    zone: event.zone,
    state: event.state,
    duty: own.duty,
    answer: own.answer,
    note: own.note,
    standIn: standIn ? (names.get(standIn.personId) ?? null) : null,
  };
}
