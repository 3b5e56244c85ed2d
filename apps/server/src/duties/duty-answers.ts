import { Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import { onDuty, standInFor } from '@heliphon/core/duties/duties';
import type { AnswerDuty } from '@heliphon/contracts/duties';
import { EventEntity } from '../tables/event.entity.js';
import { meanwhile } from '../schedule/meanwhile.js';
import { cannotComeLetter } from './duty-letter-texts.js';
import { PostOffice } from '../letters/post-office.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { MembershipEntity, PersonEntity } from '../platform/entities.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { EventDutyEntity, ToldDutyEntity } from '../tables/duty.entity.js';
import { ask, dutiesOf, turnsOf } from '../schedule/event-duties.js';

/** What people say to a duty, and what follows: who has been asked instead, and who is told. */
@Injectable()
export class DutyAnswers {
  constructor(
    private readonly database: Database,
    private readonly post: PostOffice,
  ) {}

  /** Says yes or no; when somebody cannot come, the next in turn is asked, and the producers are told. */
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

  /** @returns the person who has been asked instead. */
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
