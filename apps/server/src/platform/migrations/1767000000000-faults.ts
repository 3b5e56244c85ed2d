import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** What went wrong while events were on air, and what their sources sent: every second for a while, minutes for good. */
export class Faults1767000000000 implements MigrationInterface {
  name = 'Faults1767000000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE faults (id ${ID}, house_id ${ID}, event_id ${ID}, kind varchar(20) NOT NULL,
        subject_id varchar(64) CHARACTER SET ascii NOT NULL, detail text NOT NULL, from_at datetime(3) NOT NULL, to_at datetime(3) NULL,
        slate_ms int NOT NULL, nothing_ms int NOT NULL, picture_ms int NOT NULL, sound_ms int NOT NULL,
        viewer_ms bigint NOT NULL, told_at datetime(3) NULL, PRIMARY KEY (id),
        UNIQUE KEY fault_of_event (event_id, kind, subject_id, from_at), KEY open_faults (to_at),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
    // What it had was of hours, by source: nobody misses it.
    await queries.query('DROP TABLE signal_minutes');
    await queries.query(
      `CREATE TABLE signal_minutes (event_id ${ID}, at datetime(3) NOT NULL, house_id ${ID},
        summary text NOT NULL, seconds mediumtext NULL, PRIMARY KEY (event_id, at), KEY minutes_by_age (at),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
    await queries.query('ALTER TABLE events ADD last_heard_at datetime(3) NULL');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP last_heard_at');
    await queries.query('DROP TABLE signal_minutes');
    await queries.query(
      `CREATE TABLE signal_minutes (source_id ${ID}, at datetime(3) NOT NULL, bitrate_bps int NOT NULL,
        frame_rate_fps float NOT NULL, short_term_lufs float NULL, PRIMARY KEY (source_id, at))`,
    );
    await queries.query('DROP TABLE faults');
  }
}
