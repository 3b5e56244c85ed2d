import { Injectable } from '@nestjs/common';
import { can } from '@heliphon/core/access/capabilities';
import type { ChooseHolder, DeskHolderView } from '@heliphon/contracts/desk';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { MembershipEntity, PersonEntity } from '../platform/entities.js';
import { notFound, refusedField } from '../platform/problems.js';
import { DeskHolderEntity } from '../tables/desk-holder.entity.js';
import { EventEntity } from '../tables/event.entity.js';

/** Who holds the desk of an event. This informs and restricts nobody: people keep the rights of their roles. */
@Injectable()
export class DeskHoldersService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  async get(ctx: Context, eventId: string): Promise<DeskHolderView> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    return viewOf(await scope.findOne(DeskHolderEntity, { eventId }));
  }

  /** @throws ProblemError 404 for somebody who is no member; 422 for one whose role has nothing to do at a desk. */
  async choose(ctx: Context, eventId: string, { personId }: ChooseHolder): Promise<DeskHolderView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      await scope.lock(EventEntity, { id: eventId }, 'event');
      const before = await scope.findOne(DeskHolderEntity, { eventId });
      if ((before?.personId ?? null) === personId) return viewOf(before);
      await scope.remove(DeskHolderEntity, { eventId });
      if (personId === null) {
        await told(scope, eventId, 'desk-left', before);
        return viewOf(null);
      }
      await requireOfDesk(scope, personId);
      const { name } = await manager.findOneByOrFail(PersonEntity, { id: personId });
      const holder = await scope.add(DeskHolderEntity, {
        eventId,
        personId,
        name,
        atMs: this.clock.nowMs(),
      });
      await told(scope, eventId, 'desk-taken', before, holder);
      return viewOf(holder);
    });
  }
}

async function requireOfDesk(scope: HouseScope, personId: string): Promise<void> {
  const member = await scope.findOne(MembershipEntity, { personId });
  if (!member) throw notFound('person');
  if (!can(member.roles, 'events.move')) throw refusedField('personId', 'not-of-the-desk');
}

const told = (
  scope: HouseScope,
  subjectId: string,
  kind: 'desk-taken' | 'desk-left',
  before: DeskHolderEntity | null,
  after: DeskHolderEntity | null = null,
): Promise<unknown> =>
  scope.happened({
    subjectKind: 'event',
    subjectId,
    kind,
    before: before && { name: before.name },
    after: after && { name: after.name },
  });

const viewOf = (holder: DeskHolderEntity | null): DeskHolderView => ({
  holder: holder && { personId: holder.personId, name: holder.name, sinceMs: holder.atMs },
});
