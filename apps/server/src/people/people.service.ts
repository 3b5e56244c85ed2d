import { Injectable } from '@nestjs/common';
import { In } from 'typeorm';
import type { Role } from '@heliphon/core/access/capabilities';
import type { PersonView } from '@heliphon/contracts/people';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { CredentialEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';

const MOST_PEOPLE = 500;

/** Who belongs to a house, and what they may do in it. */
@Injectable()
export class PeopleService {
  constructor(
    private readonly database: Database,
    undo: UndoRegistry,
  ) {
    undo.register('roles-changed', async (scope, { subjectId, before }) => {
      const membership = await lockMembership(scope, subjectId);
      await setRoles(scope, membership, (before as { roles: Role[] }).roles);
    });
  }

  async list(ctx: Context): Promise<PersonView[]> {
    const memberships = await this.database.house(ctx).find(MembershipEntity, { take: MOST_PEOPLE });
    const people = await this.database.installation.findBy(PersonEntity, {
      id: In(memberships.map(({ personId }) => personId)),
    });
    const roles = new Map(memberships.map((membership) => [membership.personId, membership.roles]));
    return people
      .map((person) => view(person, roles.get(person.id)!))
      .sort((a, b) => a.name.localeCompare(b.name, 'en-GB'));
  }

  async setRoles(ctx: Context, personId: string, roles: readonly Role[]): Promise<PersonView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const membership = await lockMembership(scope, personId);
      const before = { roles: membership.roles };
      await setRoles(scope, membership, [...roles]);
      await scope.happened({
        subjectKind: 'person',
        subjectId: personId,
        kind: 'roles-changed',
        before,
        after: { roles },
      });
      return view(await manager.findOneByOrFail(PersonEntity, { id: personId }), roles);
    });
  }

  /** Takes somebody out of the house: their sessions and tokens in it end at once. */
  async remove(ctx: Context, personId: string): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      const { roles } = await lockMembership(scope, personId);
      if (roles.includes('owner')) await requireAnotherOwner(scope, personId);
      await manager.delete(CredentialEntity, { personId, houseId: ctx.houseId });
      await scope.remove(MembershipEntity, { personId });
      await scope.happened({
        subjectKind: 'person',
        subjectId: personId,
        kind: 'person-removed',
        before: { roles },
      });
    });
  }
}

async function lockMembership(scope: HouseScope, personId: string): Promise<MembershipEntity> {
  const membership = await scope.findOne(MembershipEntity, { personId });
  if (!membership) throw notFound('person');
  return scope.lock(MembershipEntity, { personId }, 'person');
}

async function setRoles(scope: HouseScope, membership: MembershipEntity, roles: Role[]): Promise<void> {
  const losesOwner = membership.roles.includes('owner') && !roles.includes('owner');
  if (losesOwner) await requireAnotherOwner(scope, membership.personId);
  membership.roles = roles;
  await scope.save(membership);
}

async function requireAnotherOwner(scope: HouseScope, personId: string): Promise<void> {
  const members = await scope.find(MembershipEntity, { take: MOST_PEOPLE });
  const others = members.filter((member) => member.personId !== personId && member.roles.includes('owner'));
  if (others.length === 0) throw new ProblemError(409, 'last-owner');
}

const view = (person: PersonEntity, roles: readonly Role[]): PersonView => ({
  id: person.id,
  name: person.name,
  email: person.email,
  roles,
  hasSecondFactor: person.totpSinceMs !== null,
});
