import Joi from 'joi';
import { having, payload } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import type { Role } from '@heliphon/core/access/capabilities';
import type { PersonView } from '@heliphon/contracts/people';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import {
  CredentialEntity,
  HouseEntity,
  MembershipEntity,
  PersonEntity,
  RecoveryCodeEntity,
} from '../platform/entities.js';
import { ProblemError } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';

const MOST_PEOPLE = 500;

const ROLES = payload(having<{ roles: Role[] }>({ roles: Joi.array().items(Joi.string()).required() }));

/** Who belongs to a house, and what they may do in it. */
@Injectable()
export class PeopleService {
  constructor(
    private readonly database: Database,
    undo: UndoRegistry,
  ) {
    undo.register('roles-changed', 'people.edit', ROLES, async (scope, { subjectId, before }, manager) => {
      const membership = await lockMembership(scope, manager, subjectId);
      await setRoles(scope, membership, before.roles);
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
      const membership = await lockMembership(scope, manager, personId);
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
      const { roles } = await lockMembership(scope, manager, personId);
      if (roles.includes('owner')) await requireAnotherOwner(scope, personId);
      await manager.delete(CredentialEntity, { personId, houseId: ctx.houseId });
      await scope.remove(MembershipEntity, { personId });
      if (!(await manager.existsBy(MembershipEntity, { personId }))) await forget(manager, personId);
      await scope.happened({
        subjectKind: 'person',
        subjectId: personId,
        kind: 'person-removed',
        before: { roles },
      });
    });
  }
}

/** One change of roles at a time in a house, its row locked first: two owners who demote each other leave one. */
async function lockMembership(
  scope: HouseScope,
  manager: EntityManager,
  personId: string,
): Promise<MembershipEntity> {
  const { houseId } = scope.ctx;
  await manager.findOneOrFail(HouseEntity, { where: { id: houseId }, lock: { mode: 'pessimistic_write' } });
  return scope.lock(MembershipEntity, { personId }, 'person');
}

/** Somebody who belongs to no house any more: the record still names them, and nothing else is kept of them. */
async function forget(manager: EntityManager, personId: string): Promise<void> {
  const nobody = { email: `${personId}@gone.invalid`, passwordHash: '', sealedTotp: null, totpSinceMs: null };
  await manager.update(PersonEntity, { id: personId }, nobody);
  await manager.delete(RecoveryCodeEntity, { personId });
  await manager.delete(CredentialEntity, { personId });
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
