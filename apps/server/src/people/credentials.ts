import type { IncomingHttpHeaders } from 'node:http';
import { Inject, Injectable } from '@nestjs/common';
import { parse } from 'cookie';
import type { Role } from '@heliphon/core/access/capabilities';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { CredentialEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';

export interface SignedIn {
  readonly kind: 'session' | 'token';
  readonly credentialId: string;
  readonly personId: string;
  readonly personName: string;
  readonly email: string;
  readonly houseId: string;
  readonly roles: readonly Role[];
}

export const SESSION_LIFE_MS = 30 * 24 * 3_600_000;
const TOKEN_LIFE_MS = 365 * 24 * 3_600_000;

/** Makes and recognises sessions and personal access tokens. Only their hashes are kept. */
@Injectable()
export class Credentials {
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
  async issue(kind: 'session' | 'token', personId: string, houseId: string, name: string): Promise<string> {
    const secret = `hp_${randomText(160)}`;
    const nowMs = this.clock.nowMs();
    await this.database.installation.insert(CredentialEntity, {
      id: newId(),
      kind,
      personId,
      houseId,
      name,
      secretSha256Hex: sha256Hex(secret),
      createdAtMs: nowMs,
      expiresAtMs: nowMs + (kind === 'session' ? SESSION_LIFE_MS : TOKEN_LIFE_MS),
    });
    return secret;
  }

  async revoke(credentialId: string): Promise<void> {
    await this.database.installation.delete(CredentialEntity, { id: credentialId });
  }

  /** Who sends these headers: `Authorization: Bearer` for programs, else the session's cookie. */
  async recognise(headers: IncomingHttpHeaders): Promise<SignedIn | null> {
    const bearer = /^Bearer (hp_[0-9a-z]+)$/.exec(headers.authorization ?? '')?.[1];
    const secret = bearer ?? parse(headers.cookie ?? '')[this.cookieName];
    if (!secret) return null;
    const manager = this.database.installation;
    const credential = await manager.findOneBy(CredentialEntity, { secretSha256Hex: sha256Hex(secret) });
    if (!credential || credential.expiresAtMs <= this.clock.nowMs()) return null;
    if (credential.kind !== (bearer ? 'token' : 'session')) return null;
    const { personId, houseId } = credential;
    const [person, membership] = await Promise.all([
      manager.findOneBy(PersonEntity, { id: personId }),
      manager.findOneBy(MembershipEntity, { personId, houseId }),
    ]);
    if (!person || !membership) return null;
    return {
      kind: credential.kind,
      credentialId: credential.id,
      personId,
      personName: person.name,
      email: person.email,
      houseId,
      roles: membership.roles,
    };
  }
}
