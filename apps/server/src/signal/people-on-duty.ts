import { type EntityManager, In } from 'typeorm';
import type { HouseScope } from '../platform/database.js';
import { PersonEntity } from '../platform/entities.js';
import { dutiesOf } from '../schedule/event-duties.js';

/** Who is on duty at an event and has not said no. */
export async function peopleOnDuty(
  scope: HouseScope,
  manager: EntityManager,
  eventId: string,
): Promise<PersonEntity[]> {
  const duties = await dutiesOf(scope, [eventId]);
  const ids = duties.filter(({ answer }) => answer !== 'no').map(({ personId }) => personId);
  return ids.length > 0 ? manager.findBy(PersonEntity, { id: In([...new Set(ids)]) }) : [];
}
