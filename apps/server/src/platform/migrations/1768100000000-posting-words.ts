import type { MigrationInterface, QueryRunner } from 'typeorm';

const REF = 'char(36) CHARACTER SET ascii';
const ID = `${REF} NOT NULL`;

/** What an event or a series says at one of its outlets, and how long before its start each outlet has it. */
export class PostingWords1768100000000 implements MigrationInterface {
  name = 'PostingWords1768100000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE posting_words (id ${ID}, house_id ${ID}, event_id ${REF} NULL, series_id ${REF} NULL, destination_id ${ID},
        title varchar(120) NULL, text text NULL, picture_id ${REF} NULL, audience varchar(10) NULL,
        PRIMARY KEY (id), UNIQUE KEY of_event (house_id, event_id, destination_id),
        UNIQUE KEY of_series (house_id, series_id, destination_id),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE,
        FOREIGN KEY (house_id, series_id) REFERENCES series (house_id, id) ON DELETE CASCADE,
        FOREIGN KEY (house_id, destination_id) REFERENCES destinations (house_id, id) ON DELETE CASCADE)`,
    );
    await queries.query('ALTER TABLE destinations ADD post_ahead_hours int NULL');
    await queries.query('UPDATE destinations SET post_ahead_hours = 168 WHERE outlet_id IS NOT NULL');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE destinations DROP post_ahead_hours');
    await queries.query('DROP TABLE posting_words');
  }
}
