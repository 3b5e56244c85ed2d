import { Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, Not, type EntityManager } from 'typeorm';
import { Clock } from './clock.js';
import { Database } from './database.js';
import {
  CommandEntity,
  CredentialEntity,
  HappeningEntity,
  InvitationEntity,
  LetterEntity,
} from './entities.js';

const DAY_MS = 86_400_000;
/** How long what is over stays to be seen. */
const KEPT_MS = {
  credentials: 30 * DAY_MS,
  letters: 90 * DAY_MS,
  invitations: 90 * DAY_MS,
  commands: 30 * DAY_MS,
  /** What sources do by themselves, many times a day. */
  sourceHappenings: 90 * DAY_MS,
  happenings: 3 * 365 * DAY_MS,
} as const;
const OF_SOURCES = ['source-came', 'source-went', 'source-refused'];
/** Deleted at once, so that nobody waits long for a lock. */
const AT_ONCE = 2000;

/** Lets go of what is over and that nobody looks at any more: no table grows without end. */
@Injectable()
export class Clearing {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  async clear(): Promise<void> {
    const manager = this.database.installation;
    const before = (ageMs: number) => LessThan(this.clock.nowMs() - ageMs);
    await manager.delete(CredentialEntity, { expiresAtMs: before(KEPT_MS.credentials) });
    await manager.delete(LetterEntity, { nextTryAtMs: IsNull(), createdAtMs: before(KEPT_MS.letters) });
    await manager.delete(InvitationEntity, { expiresAtMs: before(KEPT_MS.invitations) });
    await manager.delete(CommandEntity, { atMs: before(KEPT_MS.commands) });
    await clearHappenings(manager, { kind: In(OF_SOURCES), atMs: before(KEPT_MS.sourceHappenings) });
    await clearHappenings(manager, { kind: Not(In(OF_SOURCES)), atMs: before(KEPT_MS.happenings) });
  }
}

/** From the oldest on: they stand in the order of their ids, so that no more is looked at than goes. */
async function clearHappenings(
  manager: EntityManager,
  where: Parameters<EntityManager['findBy']>[1] & object,
): Promise<void> {
  for (;;) {
    const rows = await manager.find(HappeningEntity, {
      where,
      select: { id: true },
      order: { id: 'ASC' },
      take: AT_ONCE,
    });
    if (rows.length > 0) await manager.delete(HappeningEntity, { id: In(rows.map(({ id }) => id)) });
    if (rows.length < AT_ONCE) return;
  }
}
