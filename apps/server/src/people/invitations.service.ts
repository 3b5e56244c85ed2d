import { Injectable } from '@nestjs/common';
import { hash } from '@node-rs/argon2';
import { IsNull, MoreThan } from 'typeorm';
import type { Role } from '@heliphon/core/access/capabilities';
import type {
  AcceptInvitation,
  InvitationView,
  InvitePerson,
  OpenedInvitation,
} from '@heliphon/contracts/people';
import { invitationLetter, resetLetter } from '../letters/letter-texts.js';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, systemContext } from '../platform/database.js';
import {
  CredentialEntity,
  HouseEntity,
  InvitationEntity,
  MembershipEntity,
  PersonEntity,
} from '../platform/entities.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';

const JOIN_LIFE_MS = 7 * 24 * 3_600_000;
const RESET_LIFE_MS = 3_600_000;
const SECRET_BITS = 160;

/** Links that open a door once: into a house, or to a new password. */
@Injectable()
export class InvitationsService {
  constructor(
    private readonly database: Database,
    private readonly post: PostOffice,
    private readonly clock: Clock,
  ) {}

  async pending(ctx: Context): Promise<InvitationView[]> {
    const rows = await this.database.house(ctx).find(InvitationEntity, {
      where: { kind: 'join', usedAtMs: IsNull(), expiresAtMs: MoreThan(this.clock.nowMs()) },
      order: { createdAtMs: 'DESC' },
      take: 200,
    });
    return rows.map(({ id, email, name, roles, expiresAtMs }) => ({ id, email, name, roles, expiresAtMs }));
  }

  /** @param publicUrl - where the link leads. @returns the link, which the letter carries too. */
  async invite(ctx: Context, { email, name, roles }: InvitePerson, publicUrl: string): Promise<string> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const person = await manager.findOneBy(PersonEntity, { email });
      const isMember =
        person && (await manager.findOneBy(MembershipEntity, { personId: person.id, houseId: ctx.houseId }));
      if (isMember) throw refusedField('email', 'member-already');
      await scope.remove(InvitationEntity, { email, kind: 'join' });
      const link = this.#makeLink(ctx.houseId, 'join', { email, name, roles }, JOIN_LIFE_MS, publicUrl);
      await scope.add(InvitationEntity, link.row);
      const house = await manager.findOneByOrFail(HouseEntity, { id: ctx.houseId });
      const facts = { name, byName: ctx.byName, houseName: house.name, link: link.address };
      await this.post.write(manager, email, invitationLetter(facts));
      const after = { email, name, roles };
      await scope.happened({ subjectKind: 'person', subjectId: link.row.id, kind: 'person-invited', after });
      return link.address;
    });
  }

  async withdraw(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(InvitationEntity, { id }, 'invitation');
      await scope.remove(InvitationEntity, { id });
      const before = { email: row.email };
      await scope.happened({ subjectKind: 'person', subjectId: id, kind: 'invitation-withdrawn', before });
    });
  }

  /** Sends somebody a link to a new password. Nobody is told whether the address is known. */
  async forgotten(wanted: string, publicUrl: string): Promise<void> {
    const manager = this.database.installation;
    const person = await manager.findOneBy(PersonEntity, { email: wanted });
    const membership = person && (await manager.findOneBy(MembershipEntity, { personId: person.id }));
    if (!membership) return;
    const { houseId, roles } = membership;
    await this.database.inHouse(systemContext(houseId, 'system'), async (scope, inside) => {
      // To the address on record, whatever was typed.
      const { name, email } = person;
      const link = this.#makeLink(houseId, 'reset', { email, name, roles }, RESET_LIFE_MS, publicUrl);
      await scope.remove(InvitationEntity, { email, kind: 'reset' });
      await scope.add(InvitationEntity, link.row);
      const house = await inside.findOneByOrFail(HouseEntity, { id: houseId });
      await this.post.write(inside, email, resetLetter({ name, houseName: house.name, link: link.address }));
    });
  }

  async open(secret: string): Promise<OpenedInvitation> {
    const row = await this.#find(secret);
    const manager = this.database.installation;
    const house = await manager.findOneByOrFail(HouseEntity, { id: row.houseId });
    const person = await manager.findOneBy(PersonEntity, { email: row.email });
    const { kind, email, name } = row;
    return { kind, email, name, houseName: house.name, needsPassword: kind === 'reset' || person === null };
  }

  /** Uses a link up. A new password ends every session and token of its person, and every other link to one. */
  async accept(secret: string, { name, password }: AcceptInvitation): Promise<void> {
    const row = await this.#find(secret);
    await this.database.inHouse(systemContext(row.houseId, 'system'), async (scope, manager) => {
      const invitation = await scope.lock(InvitationEntity, { id: row.id }, 'invitation');
      if (invitation.usedAtMs !== null) throw usedUp();
      const nowMs = this.clock.nowMs();
      await scope.save(Object.assign(invitation, { usedAtMs: nowMs }));
      const { email, roles, kind } = invitation;
      let person = await manager.findOneBy(PersonEntity, { email });
      if ((!person || kind === 'reset') && password === undefined)
        throw refusedField('password', 'password-missing');
      if (!person) {
        person = manager.create(PersonEntity, {
          id: newId(),
          email,
          name: name ?? invitation.name,
          passwordHash: await hash(password!),
          createdAtMs: nowMs,
          sealedTotp: null,
          totpSinceMs: null,
        });
        await manager.insert(PersonEntity, person);
      } else if (kind === 'reset') {
        await manager.update(PersonEntity, { id: person.id }, { passwordHash: await hash(password!) });
        await manager.delete(CredentialEntity, { personId: person.id });
        await manager.delete(InvitationEntity, { email, kind: 'reset', usedAtMs: IsNull() });
      }
      if (kind === 'join') await join(scope, person.id, roles);
      const happening = kind === 'join' ? 'person-joined' : 'password-renewed';
      const after = { email, roles };
      await scope.happened({ subjectKind: 'person', subjectId: person.id, kind: happening, after });
    });
  }

  async #find(secret: string): Promise<InvitationEntity> {
    const row = await this.database.installation.findOneBy(InvitationEntity, {
      secretSha256Hex: sha256Hex(secret),
      usedAtMs: IsNull(),
      expiresAtMs: MoreThan(this.clock.nowMs()),
    });
    if (!row) throw usedUp();
    return row;
  }

  #makeLink(
    houseId: string,
    kind: 'join' | 'reset',
    who: { readonly email: string; readonly name: string; readonly roles: readonly Role[] },
    lifeMs: number,
    publicUrl: string,
  ): { row: Omit<InvitationEntity, 'houseId'>; address: string } {
    const secret = randomText(SECRET_BITS);
    const nowMs = this.clock.nowMs();
    const row = {
      id: newId(),
      kind,
      ...who,
      roles: [...who.roles],
      secretSha256Hex: sha256Hex(secret),
      createdAtMs: nowMs,
      expiresAtMs: nowMs + lifeMs,
      usedAtMs: null,
    };
    return { row, address: `${publicUrl}/welcome/${secret}` };
  }
}

/** Anyone who has joined meanwhile by another link keeps the roles they have. */
async function join(scope: HouseScope, personId: string, roles: Role[]): Promise<void> {
  if (!(await scope.findOne(MembershipEntity, { personId })))
    await scope.add(MembershipEntity, { personId, roles });
}

/** Wrong, used and run out look alike from outside. */
const usedUp = (): ProblemError => new ProblemError(410, 'link-used-up');
