import { createConnection } from 'mysql2/promise';
import type { DestinationView } from '../../packages/contracts/src/destinations.js';
import type { EventView } from '../../packages/contracts/src/events.js';
import type { Page } from '../../packages/contracts/src/problem.js';
import type { SeriesView } from '../../packages/contracts/src/series.js';
import { ServerDriver } from '../../apps/server/test/driver.js';

const SERIES = 200;
const EVENTS_EACH = 50;

/** A server in a process of its own with a house of 10,000 events in 200 series; says where it is. */
const driver = await ServerDriver.start();
const house = await driver.house('owner');
for (let count = 0; count < 20; count += 1) await driver.member(house.houseId, 'operator');
const source = await house.source();
const place = (
  await house.post<DestinationView>('/api/destinations', {
    name: 'Relay',
    address: 'rtmp://127.0.0.1/live/k',
  })
).body;
const personId = (await house.get<Page<{ id: string }>>('/api/people')).body.items[0]!.id;
const day = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
const series = (
  await house.post<SeriesView>('/api/series', {
    title: 'Evensong',
    rule: 'FREQ=DAILY;COUNT=1',
    firstDate: day,
    timeOfDay: '10:30',
    lengthMinutes: 60,
    sourceId: source.id,
  })
).body;
const [first] = (await house.get<Page<EventView>>('/api/events')).body.items as [EventView];
await house.patch(`/api/events/${first.id}`, first.version, {
  destinationIds: [place.id],
  duties: [{ duty: 'operator', personId }],
});

// The rest is copied where it lies: each series once a week, all over half a year before and after.
const connection = await createConnection({ uri: driver.databaseUrl, timezone: 'Z' });
const columnsOf = async (table: string): Promise<string[]> => {
  const [rows] = await connection.query(`SHOW COLUMNS FROM ${table}`);
  return (rows as { Field: string }[]).map(({ Field }) => `\`${Field}\``);
};
async function copy(table: string, over: Readonly<Record<string, string>>, from: string): Promise<void> {
  const columns = await columnsOf(table);
  const values = columns.map((column) => over[column.replaceAll('`', '')] ?? column);
  await connection.query(
    `INSERT INTO ${table} (${columns.join()}) SELECT ${values.join()} FROM ${table} ${from}`,
  );
}
await copy(
  'series',
  { id: 'UUID()', slug: `CONCAT('s-', seq)`, title: `CONCAT('Series ', seq)` },
  `JOIN seq_2_to_${SERIES} WHERE id = '${series.id}'`,
);
await connection.query(`CREATE TABLE numbered AS SELECT id, ROW_NUMBER() OVER () AS nth FROM series`);
const shift = (column: string): string =>
  `${column} + INTERVAL (CAST(seq AS SIGNED) - ${EVENTS_EACH / 2}) WEEK + INTERVAL (nth % 7) DAY + INTERVAL (nth % 12) HOUR`;
await copy(
  'events',
  {
    id: 'UUID()',
    slug: `CONCAT('e-', nth, '-', seq)`,
    title: `CONCAT('Gathering ', nth, ' of week ', seq)`,
    starts_at: shift('starts_at'),
    stops_at: shift('stops_at'),
    doors_due_at: shift('doors_due_at'),
    hard_stop_at: shift('hard_stop_at'),
    state: `IF(seq <= ${EVENTS_EACH / 2}, 'kept', 'planned')`,
    programme_id: 'UUID()',
    series_id: 'numbered.id',
    series_date: `CONCAT('d', seq)`,
  },
  `JOIN numbered JOIN seq_1_to_${EVENTS_EACH} WHERE events.id = '${first.id}'`,
);
await connection.query(
  `INSERT INTO event_destinations (house_id, event_id, destination_id, paused)
   SELECT house_id, id, ?, 0 FROM events WHERE id <> ?`,
  [place.id, first.id],
);
await connection.query(
  `INSERT INTO event_duties (house_id, event_id, duty, person_id, answer, note)
   SELECT house_id, id, 'operator', ?, NULL, '' FROM events WHERE id <> ?`,
  [personId, first.id],
);
await connection.query('DROP TABLE numbered');
await connection.query('ANALYZE TABLE events, event_destinations, event_duties, series');
await connection.end();
process.once('disconnect', () => void driver.stop().then(() => process.exit(0)));
process.send!({
  url: driver.url,
  databaseUrl: driver.databaseUrl,
  houseId: house.houseId,
  authorization: house.authorization,
});
