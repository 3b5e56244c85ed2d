import type { EntityManager } from 'typeorm';
import type { Context } from '../platform/database.js';

/**
 * The next number in a chat, the first of `count`. Its row is the first that a transaction locks, so that anyone who speaks
 * at once waits in line; made and counted in one statement, so that nobody finds it missing.
 */
export async function nextSeq(
  manager: EntityManager,
  { houseId }: Context,
  eventId: string,
  count = 1,
): Promise<number> {
  await manager.query(
    `INSERT INTO chat_rooms (event_id, house_id, last_seq) VALUES (?, ?, ?)
     ON DUPLICATE KEY UPDATE last_seq = last_seq + ?`,
    [eventId, houseId, count, count],
  );
  const [room] = await manager.query<{ lastSeq: string }[]>(
    'SELECT last_seq AS lastSeq FROM chat_rooms WHERE event_id = ? FOR UPDATE',
    [eventId],
  );
  return Number(room!.lastSeq) - count + 1;
}

/** Locks a chat without counting on, before anything else of it is locked. */
export const lockRoom = (manager: EntityManager, ctx: Context, eventId: string): Promise<number> =>
  nextSeq(manager, ctx, eventId, 0);
