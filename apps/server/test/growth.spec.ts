import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createConnection, type Connection, type RowDataPacket } from 'mysql2/promise';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import type { EventView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import { Clearing } from '../src/platform/clearing.js';
import { type HouseClient, ServerDriver } from './driver.js';

const ROWS = 20_000;
let server: ServerDriver;
let house: HouseClient;
let event: EventView;
let connection: Connection;

/** A house after years of Sundays: what grows has grown. */
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house('owner');
  event = await house.event(600, 660);
  connection = await createConnection({ uri: server.databaseUrl, multipleStatements: true });
  await connection.query(
    `INSERT INTO happenings (house_id, subject_kind, subject_id, at, \`by\`, kind, \`before\`, \`after\`)
       SELECT :house, 'event', IF(seq % 1000 = 0, :event, UUID()), NOW(3) - INTERVAL seq MINUTE,
              IF(seq % 500 = 0, 'clock', CAST(UUID() AS CHAR)), IF(seq % 700 = 0, 'source-refused', 'event-edited'), NULL, NULL
       FROM seq_1_to_${ROWS};
     INSERT INTO chat_messages (id, client_key, house_id, event_id, author_id, author, by_house, text, at, seq)
       SELECT UUID(), UUID(), :house, :event, IF(seq % 1000 = 0, :event, UUID()), 'Somebody', 0, 'Good morning', NOW(3), seq
       FROM seq_1_to_${ROWS};
     INSERT INTO letters (id, recipient, subject, sealed_text, attempts, next_try_at, sent_at, created_at)
       SELECT UUID(), 'odo@mill.example', 'You are invited', '', 1, IF(seq % 1000 = 0, NOW(3), NULL), NOW(3), NOW(3)
       FROM seq_1_to_${ROWS};
     INSERT INTO invitations (id, house_id, kind, email, name, roles, secret_sha256_hex, created_at, expires_at, used_at)
       SELECT UUID(), :house, 'join', 'odo@mill.example', 'Odo', '["operator"]', SHA2(seq, 256), NOW(3),
              NOW(3) + INTERVAL 7 DAY, IF(seq % 1000 = 0, NULL, NOW(3))
       FROM seq_1_to_${ROWS};
     ANALYZE TABLE happenings, chat_messages, letters, invitations;`
      .replaceAll(':house', connection.escape(house.houseId))
      .replaceAll(':event', connection.escape(event.id)),
  );
}, 120_000);
afterAll(async () => {
  await connection.end();
  await server.stop();
});

interface Plan {
  readonly key: string | null;
  readonly rows: number;
  readonly isSorted: boolean;
}

/** How the database means to find it. */
async function planOf(query: string): Promise<Plan> {
  const [rows] = await connection.query<RowDataPacket[]>(`EXPLAIN ${query}`);
  const { key, rows: estimated, Extra } = rows[0] as { key: string | null; rows: number; Extra: string };
  return { key, rows: Number(estimated), isSorted: !Extra.includes('filesort') };
}

describe(`with ${ROWS} rows in each`, () => {
  const ofHouse = (): string => `house_id = ${connection.escape(house.houseId)}`;
  test.each<[string, string, () => string]>([
    ['the activity record, newest first', 'happenings_house', () => `happenings WHERE ${ofHouse()}`],
    [
      'what happened to one thing',
      'happenings_subject',
      () => `happenings WHERE ${ofHouse()} AND subject_id = ${connection.escape(event.id)}`,
    ],
    ['what one person did', 'happenings_by', () => `happenings WHERE ${ofHouse()} AND \`by\` = 'clock'`],
    ['one kind', 'happenings_kind', () => `happenings WHERE ${ofHouse()} AND kind = 'source-refused'`],
  ])('%s is read from an index, in its order', async (_what, key, where) => {
    expect(await planOf(`SELECT * FROM ${where()} ORDER BY id DESC LIMIT 51`)).toMatchObject({
      key,
      isSorted: true,
    });
  });

  test.each<[string, string, () => string]>([
    [
      'the newest messages of a chat',
      'chat_order',
      () => `chat_messages WHERE event_id = ${connection.escape(event.id)} ORDER BY seq DESC LIMIT 51`,
    ],
    [
      'what one person said in a chat',
      'chat_author',
      () =>
        `chat_messages WHERE event_id = ${connection.escape(event.id)} AND author_id = ${connection.escape(event.id)} ORDER BY seq`,
    ],
    [
      'letters that are due',
      'letters_due',
      () => 'letters WHERE next_try_at <= NOW(3) ORDER BY next_try_at LIMIT 1',
    ],
  ])('%s', async (_what, key, query) => {
    expect(await planOf(`SELECT * FROM ${query()}`)).toMatchObject({ key, isSorted: true });
  });

  test('open invitations are a handful among all that were used', async () => {
    const plan = await planOf(
      `SELECT * FROM invitations WHERE ${ofHouse()} AND used_at IS NULL AND expires_at > NOW(3)`,
    );
    expect(plan.key).toBe('invitations_house');
    expect(plan.rows).toBeLessThan(ROWS / 100);
  });

  test('the record is walked page by page, each entry once, to its very end', async () => {
    const seen = new Set<string>();
    let after: string | null = null;
    let pages = 0;
    do {
      const cursor: string = after ? `&after=${encodeURIComponent(after)}` : '';
      const { body } = await house.get<Page<ActivityEntry>>(
        `/api/happenings?kinds=source-refused&limit=10${cursor}`,
      );
      for (const { id } of body.items) {
        expect(seen.has(id)).toBe(false);
        seen.add(id);
      }
      after = body.next;
      pages += 1;
    } while (after);
    expect([seen.size, pages]).toEqual([Math.floor(ROWS / 700), Math.ceil(Math.floor(ROWS / 700) / 10)]);
  });

  test('four years on, what is over has been let go, and what is not stays', async () => {
    const rowsOf = async (table: string): Promise<number> => {
      const [rows] = await connection.query<RowDataPacket[]>(`SELECT COUNT(*) AS rows_there FROM ${table}`);
      return Number(rows[0]!.rows_there);
    };
    const [unsent] = await connection.query<RowDataPacket[]>(
      'SELECT COUNT(*) AS rows_there FROM letters WHERE next_try_at IS NOT NULL',
    );
    await server.setClock(4 * 366 * 86_400_000);
    await server.app.get(Clearing).clear();
    // What the clock moved on the way is of today.
    const old = 'happenings WHERE at < NOW(3) + INTERVAL 1 DAY';
    for (const table of [old, 'invitations', 'commands', 'credentials'])
      expect([table, await rowsOf(table)]).toEqual([table, 0]);
    expect(await rowsOf('letters')).toBe(Number(unsent[0]!.rows_there));
    expect(await rowsOf('chat_messages')).toBe(ROWS);
  });
});
