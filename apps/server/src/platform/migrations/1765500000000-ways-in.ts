import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii';
const HASH = 'char(64) CHARACTER SET ascii';

/** More ways in than an encoder's key: what a source is, its advice, and lines by which browsers send. */
export class WaysIn1765500000000 implements MigrationInterface {
  name = 'WaysIn1765500000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE sources ADD kind varchar(10) NOT NULL DEFAULT 'device',
        ADD follows_event_id ${ID} NULL, ADD follows_series_id ${ID} NULL, ADD file_id ${ID} NULL,
        ADD advice_upload_bps int NULL, ADD advice_measured_at datetime(3) NULL, ADD advice_size varchar(10) NULL,
        ADD KEY sources_follow_event (house_id, follows_event_id), ADD KEY sources_follow_series (house_id, follows_series_id),
        ADD CONSTRAINT source_plays_file FOREIGN KEY (house_id, file_id) REFERENCES files (house_id, id)`,
    );
    await queries.query(
      `CREATE TABLE sending_lines (id ${ID} NOT NULL, house_id ${ID} NOT NULL, source_id ${ID} NOT NULL, event_id ${ID} NULL,
        name varchar(60) NOT NULL, link_sha256_hex ${HASH} NULL, sealed_link text NULL, token_sha256_hex ${HASH} NULL,
        created_at datetime(3) NOT NULL, ends_at datetime(3) NOT NULL, claimed_at datetime(3) NULL, withdrawn_at datetime(3) NULL,
        PRIMARY KEY (id), UNIQUE KEY sending_lines_link (link_sha256_hex), KEY sending_lines_of_source (house_id, source_id, created_at),
        KEY sending_lines_of_event (house_id, event_id), KEY sending_lines_until (ends_at),
        FOREIGN KEY (house_id, source_id) REFERENCES sources (house_id, id) ON DELETE CASCADE,
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE sending_lines');
    await queries.query(
      `ALTER TABLE sources DROP FOREIGN KEY source_plays_file, DROP KEY sources_follow_event, DROP KEY sources_follow_series, DROP KEY source_plays_file,
        DROP kind, DROP follows_event_id, DROP follows_series_id, DROP file_id,
        DROP advice_upload_bps, DROP advice_measured_at, DROP advice_size`,
    );
  }
}
