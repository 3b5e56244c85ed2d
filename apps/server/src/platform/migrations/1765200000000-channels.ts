import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';
const OF_CHANNEL = 'FOREIGN KEY (house_id, channel_id) REFERENCES channels (house_id, id)';

/** Channels, what belongs to them, and calendars of one channel. */
export class Channels1765200000000 implements MigrationInterface {
  name = 'Channels1765200000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE channels (id ${ID}, house_id ${ID}, name varchar(60) NOT NULL, slug varchar(100) NOT NULL,
        description text NOT NULL, version int NOT NULL, PRIMARY KEY (id), UNIQUE KEY channels_of_house (house_id, id),
        KEY channels_name (house_id, name), FOREIGN KEY (house_id) REFERENCES houses (id))`,
    );
    await queries.query(
      `ALTER TABLE events ADD channel_id char(36) CHARACTER SET ascii NULL,
        ADD KEY events_channel (house_id, channel_id, state, starts_at), ADD CONSTRAINT event_in_channel ${OF_CHANNEL}`,
    );
    await queries.query(
      `ALTER TABLE series ADD channel_id char(36) CHARACTER SET ascii NULL,
        ADD KEY series_channel (house_id, channel_id), ADD CONSTRAINT series_in_channel ${OF_CHANNEL}`,
    );
    // What a calendar is of: a channel, or, where it is of the whole house or of duties, nothing.
    await queries.query(
      `ALTER TABLE calendars ADD about char(36) CHARACTER SET ascii NOT NULL DEFAULT '', DROP PRIMARY KEY,
        ADD PRIMARY KEY (person_id, house_id, kind, about)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(`DELETE FROM calendars WHERE about <> ''`);
    await queries.query(
      'ALTER TABLE calendars DROP PRIMARY KEY, DROP about, ADD PRIMARY KEY (person_id, house_id, kind)',
    );
    for (const [table, key, rule] of [
      ['series', 'series_channel', 'series_in_channel'],
      ['events', 'events_channel', 'event_in_channel'],
    ])
      await queries.query(`ALTER TABLE ${table} DROP FOREIGN KEY ${rule}, DROP KEY ${key}, DROP channel_id`);
    await queries.query('DROP TABLE channels');
  }
}
