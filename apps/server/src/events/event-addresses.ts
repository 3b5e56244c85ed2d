import type { EntityManager } from 'typeorm';
import { AddressEntity } from '../platform/entities.js';
import { randomText } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';

/** A title as an address: small letters, figures, hyphens. */
export function slugOf(title: string): string {
  const slug = title
    .normalize('NFKD')
    .replace(/[\u0300-\u036f’']/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60);
  return slug || 'event';
}

/** What is found at an address. */
type Target = Pick<AddressEntity, 'houseId' | 'kind' | 'targetId'>;

/** A series is often called like the event it began with, and a channel like the room it is in. */
const nextTry = (wanted: string, attempt: number, { kind }: Target): string =>
  kind !== 'event' && attempt === 1 ? `${wanted}-${kind}` : `${wanted}-${randomText(20)}`;

/** Takes a public address; one that is taken gets a suffix, silently. */
export async function takeAddress(manager: EntityManager, wanted: string, target: Target): Promise<string> {
  for (let attempt = 0; attempt < 5; attempt += 1) {
    const slug = attempt === 0 ? wanted : nextTry(wanted, attempt, target);
    // The first to write the row has it; looking before would let two find it free.
    await manager.query(
      `INSERT INTO addresses (slug, house_id, kind, target_id) VALUES (?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE retired_at = IF(target_id = VALUES(target_id), NULL, retired_at)`,
      [slug, target.houseId, target.kind, target.targetId],
    );
    const lock = { mode: 'pessimistic_read' } as const;
    const row = await manager.findOneOrFail(AddressEntity, { where: { slug }, lock });
    if (row.targetId === target.targetId) return slug;
  }
  throw new ProblemError(409, 'address-taken', { slug: wanted });
}

/** Gives an event another address; the old one keeps leading to it. */
export async function renameAddress(
  manager: EntityManager,
  oldSlug: string,
  wanted: string,
  target: Target,
  nowMs: number,
): Promise<string> {
  const slug = await takeAddress(manager, wanted, target);
  if (slug !== oldSlug) await manager.update(AddressEntity, { slug: oldSlug }, { retiredAtMs: nowMs });
  return slug;
}
