import type { IncomingHttpHeaders } from 'node:http';
import { Inject, Injectable } from '@nestjs/common';
import { parse } from 'cookie';
import { In, MoreThan } from 'typeorm';
import type { Capability, Role } from '@heliphon/core/access/capabilities';
import {
  type MadeToken,
  type MakeToken,
  type SessionEntry,
  TOKEN_DAYS,
  type TokenEntry,
} from '@heliphon/contracts/people';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { CredentialEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { notFound } from '../platform/problems.js';
import type { Recogniser, SignedIn } from '../platform/signed-in.js';

export const SESSION_LIFE_MS = 30 * 24 * 3_600_000;
const DAY_MS = 24 * 3_600_000;
/** Written down no more often: it is for people to see, not a log. */
const USED_EVERY_MS = 60_000;
const MOST_LISTED = 100;

/** A credential with whose it is, and what they are in its house. */
interface Known {
  readonly credential: CredentialEntity;
  readonly person: PersonEntity;
  readonly membership: MembershipEntity;
}

/** Makes and recognises sessions and personal access tokens. Only their hashes are kept. */
@Injectable()
export class Credentials implements Recogniser {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  /** Cookies ignore ports, so the name carries it: two installations on one machine do not disturb each other. */
  get cookieName(): string {
    return `heliphon_${this.config.port}`;
  }

  /** @returns the secret, told once. */
  async issue(
    kind: 'session' | 'token',
    personId: string,
    houseId: string,
    name: string,
    more: { device?: string; scopes?: readonly Capability[] | null; lifeMs?: number; id?: string } = {},
  ): Promise<string> {
    const secret = `hp_${randomText(160)}`;
    const nowMs = this.clock.nowMs();
    await this.database.installation.insert(CredentialEntity, {
      id: more.id ?? newId(),
      kind,
      personId,
      houseId,
      name,
      secretSha256Hex: sha256Hex(secret),
      createdAtMs: nowMs,
      expiresAtMs: nowMs + (more.lifeMs ?? (kind === 'session' ? SESSION_LIFE_MS : TOKEN_DAYS.most * DAY_MS)),
      scopes: more.scopes ? [...more.scopes] : null,
      device: more.device ?? '',
      lastUsedAtMs: null,
    });
    return secret;
  }

  async sessionsOf({ personId, credentialId }: SignedIn): Promise<SessionEntry[]> {
    const rows = await this.#listed('session', { personId });
    return rows.map(({ id, device, createdAtMs, lastUsedAtMs }) => ({
      id,
      device,
      createdAtMs,
      lastUsedAtMs,
      isThisOne: id === credentialId,
    }));
  }

  async tokensOf({ personId, houseId }: SignedIn): Promise<TokenEntry[]> {
    return (await this.#listed('token', { personId, houseId })).map(tokenView);
  }

  async makeToken({ personId, houseId }: SignedIn, { name, scopes, days }: MakeToken): Promise<MadeToken> {
    const id = newId();
    const secret = await this.issue('token', personId, houseId, name, { id, scopes, lifeMs: days * DAY_MS });
    const row = await this.database.installation.findOneByOrFail(CredentialEntity, { id });
    return { token: tokenView(row), secret };
  }

  /** Ends one of somebody's own sessions or tokens. */
  async end({ personId }: SignedIn, kind: 'session' | 'token', id: string): Promise<void> {
    const ended = await this.database.installation.delete(CredentialEntity, { id, kind, personId });
    if (!ended.affected) throw notFound(kind);
  }

  #listed(
    kind: 'session' | 'token',
    whose: { personId: string; houseId?: string },
  ): Promise<CredentialEntity[]> {
    return this.database.installation.find(CredentialEntity, {
      where: { kind, ...whose, expiresAtMs: MoreThan(this.clock.nowMs()) },
      order: { createdAtMs: 'DESC' },
      take: MOST_LISTED,
    });
  }

  async revoke(credentialId: string): Promise<void> {
    await this.database.installation.delete(CredentialEntity, { id: credentialId });
  }

  /** Who sends these headers: `Authorization: Bearer` for programs, else the session's cookie. */
  async recognise(headers: IncomingHttpHeaders): Promise<SignedIn | null> {
    const bearer = /^Bearer (hp_[0-9a-z]+)$/.exec(headers.authorization ?? '')?.[1];
    const secret = bearer ?? parse(headers.cookie ?? '')[this.cookieName];
    if (!secret) return null;
    const known = await this.#known(sha256Hex(secret));
    if (!known || known.credential.expiresAtMs <= this.clock.nowMs()) return null;
    const { credential, person, membership } = known;
    if (credential.kind !== (bearer ? 'token' : 'session')) return null;
    const { personId, houseId } = credential;
    await this.#noteUse(credential);
    return {
      kind: credential.kind,
      credentialId: credential.id,
      personId,
      personName: person.name,
      email: person.email,
      houseId,
      roles: membership.roles,
      scopes: credential.scopes,
    };
  }

  /** Read in one go: it stands before every request. */
  async #known(secretSha256Hex: string): Promise<Known | null> {
    const found = await this.database.installation
      .createQueryBuilder(CredentialEntity, 'credential')
      .innerJoinAndMapOne('credential.person', PersonEntity, 'person', 'person.id = credential.personId')
      .innerJoinAndMapOne(
        'credential.membership',
        MembershipEntity,
        'membership',
        'membership.personId = credential.personId AND membership.houseId = credential.houseId',
      )
      .where('credential.secretSha256Hex = :secretSha256Hex', { secretSha256Hex })
      .getOne();
    return found && { credential: found, ...(found as unknown as Omit<Known, 'credential'>) };
  }

  /** Of those signed in, by their credentials, the roles they have now; who is not signed in any more is left out. */
  async still(all: readonly SignedIn[]): Promise<Map<string, readonly Role[]>> {
    const manager = this.database.installation;
    const [credentials, memberships] = await Promise.all([
      manager.findBy(CredentialEntity, {
        id: In([...new Set(all.map(({ credentialId }) => credentialId))]),
        expiresAtMs: MoreThan(this.clock.nowMs()),
      }),
      manager.findBy(MembershipEntity, { personId: In([...new Set(all.map(({ personId }) => personId))]) }),
    ]);
    return new Map(
      credentials.flatMap(({ id, personId, houseId }) => {
        const own = memberships.find((one) => one.personId === personId && one.houseId === houseId);
        return own ? [[id, own.roles] as const] : [];
      }),
    );
  }

  async #noteUse({ id, lastUsedAtMs }: CredentialEntity): Promise<void> {
    const nowMs = this.clock.nowMs();
    if (lastUsedAtMs !== null && nowMs - lastUsedAtMs < USED_EVERY_MS) return;
    await this.database.installation.update(CredentialEntity, { id }, { lastUsedAtMs: nowMs });
  }
}

const tokenView = ({
  id,
  name,
  scopes,
  createdAtMs,
  expiresAtMs,
  lastUsedAtMs,
}: CredentialEntity): TokenEntry => ({
  id,
  name,
  scopes,
  createdAtMs,
  expiresAtMs,
  lastUsedAtMs,
});
