import { Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import { onDuty, standInFor } from '@heliphon/core/duties/duties';
import type { AnswerDuty, OwnDuties, OwnDuty } from '@heliphon/contracts/duties';
import { CalendarsService, type Who } from '../calendars/calendars.service.js';
import { EventEntity } from '../events/event.entity.js';
import { meanwhile } from '../events/meanwhile.js';
import { cannotComeLetter } from '../letters/duty-letter-texts.js';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { EventDutyEntity, ToldDutyEntity } from './duty.entity.js';
import { ask, dutiesOf, eventsOfPerson, turnsOf } from './event-duties.js';

const MOST_SHOWN = 100;

/** Somebody's own duties: what they are asked for, and what they say. */
@Injectable()
export class DutiesService {
  constructor(
    private readonly database: Database,
    private readonly calendars: CalendarsService,
    private readonly post: PostOffice,
    private readonly clock: Clock,
  ) {}

  /** The secret by which somebody sees and answers without signing in. */
  async secretOf(who: Who): Promise<string> {
    return (await this.calendars.secretOf(who, 'duties')) ?? this.calendars.renew(who, 'duties');
  }

  /** Who acts by such a secret. @throws ProblemError 404 */
  async actorOf(secret: string): Promise<Context> {
    const { kind, personId, houseId } = await this.calendars.ownerOf(secret);
    if (kind !== 'duties') throw notFound('calendar');
    const person = await this.database.installation.findOneByOrFail(PersonEntity, { id: personId });
    return { houseId, by: personId, byName: person.name, roles: [] };
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

  /** Says yes or no; for whoever cannot come, the next in turn is asked, and the producers are told. */
  async answer(ctx: Context, { eventId, duty, answer, note }: AnswerDuty): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      const event = await scope.lock(EventEntity, { id: eventId }, 'event');
      const asked = await dutiesOf(scope, [eventId]);
      const own = asked.find((one) => one.duty === duty && one.personId === ctx.by);
      if (!own) throw notFound('duty');
      if (event.state === 'kept' || event.state === 'cancelled')
        throw new ProblemError(409, 'not-planned-any-more', { state: event.state });
      const other = onDuty(asked).find((one) => one.duty === duty && one.personId !== ctx.by);
      if (answer === 'yes' && other) throw new ProblemError(409, 'somebody-stands-in');
      const wasNo = own.answer === 'no';
      await scope.save(Object.assign(own, { answer, note }));
      // Who has said yes knows of it, whether a letter has come yet or not; who said no knows that they are not needed.
      const { title, startsAtMs } = event;
      await scope.remove(ToldDutyEntity, { eventId, duty, personId: ctx.by });
      if (answer === 'yes')
        await scope.add(ToldDutyEntity, { eventId, duty, personId: ctx.by, title, startsAtMs, isOff: false });
      let standIn: string | null = null;
      if (answer === 'no' && !wasNo) {
        standIn = await this.#askNext(scope, event, own, asked);
        await this.#tellProducers(scope, manager, event, own, standIn);
      }
      await scope.happened({
        subjectKind: 'event',
        subjectId: eventId,
        kind: answer === 'yes' ? 'duty-accepted' : 'duty-refused',
        after: { duty, note, personId: ctx.by, standIn },
      });
    });
  }

  /** @returns the person who is asked instead. */
  async #askNext(
    scope: HouseScope,
    event: EventEntity,
    { duty, personId }: EventDutyEntity,
    asked: readonly EventDutyEntity[],
  ): Promise<string | null> {
    if (!event.seriesId) return null;
    const turns = (await turnsOf(scope, event.seriesId)).find((one) => one.duty === duty);
    const others = await scope.find(EventEntity, {
      where: meanwhile([{ fromMs: event.doorsDueAtMs, toMs: event.stopsAtMs }]),
    });
    const elsewhere = await dutiesOf(
      scope,
      others.filter(({ id }) => id !== event.id).map(({ id }) => id),
    );
    const refused = asked.filter((one) => one.duty === duty && one.answer === 'no');
    const cannot = new Set([...refused, ...onDuty(elsewhere)].map((one) => one.personId));
    const next = standInFor(turns?.personIds ?? [], personId, cannot);
    if (next) await ask(scope, event.id, { duty, personId: next });
    return next;
  }

  async #tellProducers(
    scope: HouseScope,
    manager: EntityManager,
    event: EventEntity,
    { duty, note, personId }: EventDutyEntity,
    standIn: string | null,
  ): Promise<void> {
    const members = await scope.find(MembershipEntity);
    const makers = members.filter(({ roles }) => roles.includes('producer') || roles.includes('owner'));
    const people = await manager.findBy(PersonEntity, {
      id: In([...makers.map((one) => one.personId), personId, standIn ?? personId]),
    });
    const nameOf = (id: string | null): string | null => people.find((one) => one.id === id)?.name ?? null;
    for (const { id, name, email } of people) {
      if (id === personId || !makers.some((maker) => maker.personId === id)) continue;
      const letter = cannotComeLetter({
        name,
        who: nameOf(personId)!,
        duty,
        note,
        title: event.title,
        startsAtMs: event.startsAtMs,
        zone: event.zone,
        standIn: nameOf(standIn),
      });
      await this.post.write(manager, email, letter);
    }
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
