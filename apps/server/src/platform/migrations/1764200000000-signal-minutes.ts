import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What sources sent, by the minute, so that the desk's strips outlive a restart. */
export class SignalMinutes1764200000000 implements MigrationInterface {
  name = 'SignalMinutes1764200000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE signal_minutes (source_id char(36) CHARACTER SET ascii NOT NULL, at datetime(3) NOT NULL,
        bitrate_bps int NOT NULL, frame_rate_fps float NOT NULL, short_term_lufs float NULL,
        PRIMARY KEY (source_id, at),
        FOREIGN KEY (source_id) REFERENCES sources (id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE signal_minutes');
  }
}
