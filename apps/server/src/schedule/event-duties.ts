import { type EntityManager, In } from 'typeorm';
import { DUTIES, type DutyTurns, onDuty, type OnDuty } from '@heliphon/core/duties/duties';
import type { EventDuty } from '@heliphon/contracts/events';
import { EventEntity } from '../tables/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { MembershipEntity } from '../platform/entities.js';
import { refusedField } from '../platform/problems.js';
import { EventDutyEntity, SeriesDutyEntity } from '../tables/duty.entity.js';

/** Events that somebody was asked for and that have not stopped before an instant, by their start. */
export const eventsOfPerson = (
  manager: EntityManager,
  { personId, houseId }: { readonly personId: string; readonly houseId: string },
  fromMs: number,
  most: number,
): Promise<EventEntity[]> =>
  manager
    .createQueryBuilder(EventEntity, 'event')
    .where(
      `event.houseId = :houseId AND event.stopsAtMs > :from AND event.isDraft = 0 AND event.id IN
        (SELECT event_id FROM event_duties WHERE house_id = :houseId AND person_id = :personId)`,
      { houseId, personId, from: new Date(fromMs) },
    )
    .orderBy('event.startsAtMs', 'ASC')
    .take(most)
    .getMany();

/** How it goes over the wire. */
export const eventDuty = ({ duty, personId, answer, note }: EventDutyEntity): EventDuty => ({
  duty,
  personId,
  answer,
  note,
});

export const dutiesOf = (scope: HouseScope, eventIds: readonly string[]): Promise<EventDutyEntity[]> =>
  eventIds.length === 0
    ? Promise.resolve([])
    : scope.find(EventDutyEntity, { where: { eventId: In([...eventIds]) } });

/** Lets these people be on duty, and asks those who were not; those who said no stay in sight. @throws ProblemError 422 */
export async function setDuties(
  scope: HouseScope,
  eventId: string,
  wanted: readonly OnDuty[],
): Promise<void> {
  await checkPeople(scope, wanted);
  const asked = await dutiesOf(scope, [eventId]);
  for (const duty of DUTIES) {
    const was = asked.find((one) => one.duty === duty && one.answer !== 'no')?.personId;
    const personId = wanted.find((one) => one.duty === duty)?.personId;
    if (was === personId) continue;
    if (was) await scope.remove(EventDutyEntity, { eventId, duty, personId: was });
    if (!personId) await scope.remove(EventDutyEntity, { eventId, duty });
    else await ask(scope, eventId, { duty, personId });
  }
}

/** Asks somebody, and asks again where they have said no. */
export async function ask(scope: HouseScope, eventId: string, { duty, personId }: OnDuty): Promise<void> {
  await scope.remove(EventDutyEntity, { eventId, duty, personId });
  await scope.add(EventDutyEntity, { eventId, duty, personId, answer: null, note: '' });
}

/** Brings a date's people to what its series says now; where somebody has answered, it stays as it is. */
export async function followTurns(
  scope: HouseScope,
  eventId: string,
  byTurns: readonly OnDuty[],
): Promise<boolean> {
  const asked = await dutiesOf(scope, [eventId]);
  const answered = new Set(asked.filter(({ answer }) => answer !== null).map(({ duty }) => duty));
  const now = onDuty(asked);
  const wanted = [
    ...now.filter(({ duty }) => answered.has(duty)),
    ...byTurns.filter(({ duty }) => !answered.has(duty)),
  ];
  const keys = (list: readonly OnDuty[]): string =>
    list
      .map(({ duty, personId }) => duty + personId)
      .sort()
      .join();
  if (keys(now) === keys(wanted)) return false;
  await setDuties(scope, eventId, wanted);
  return true;
}

/** Who takes turns in a series. */
export async function turnsOf(scope: HouseScope, seriesId: string): Promise<DutyTurns[]> {
  const rows = await scope.find(SeriesDutyEntity, { where: { seriesId }, order: { turn: 'ASC' } });
  return DUTIES.flatMap((duty) => {
    const personIds = rows.filter((row) => row.duty === duty).map(({ personId }) => personId);
    return personIds.length > 0 ? [{ duty, personIds }] : [];
  });
}

/** @throws ProblemError 422 where one of them is none of the house's. */
export async function setTurns(
  scope: HouseScope,
  seriesId: string,
  turns: readonly DutyTurns[],
): Promise<void> {
  const all = turns.flatMap(({ duty, personIds }) =>
    personIds.map((personId, turn) => ({ seriesId, duty, personId, turn })),
  );
  await checkPeople(scope, all);
  await scope.remove(SeriesDutyEntity, { seriesId });
  for (const row of all) await scope.add(SeriesDutyEntity, row);
}

async function checkPeople(
  scope: HouseScope,
  people: readonly { readonly personId: string }[],
): Promise<void> {
  const ids = [...new Set(people.map(({ personId }) => personId))];
  const found = ids.length > 0 ? await scope.find(MembershipEntity, { where: { personId: In(ids) } }) : [];
  if (found.length !== ids.length) throw refusedField('duties', 'unknown-person');
}
