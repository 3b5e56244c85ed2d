import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** What viewers of an event have had, change by change. */
export class ViewersHave1766800000000 implements MigrationInterface {
  name = 'ViewersHave1766800000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE viewers_have (id ${ID}, house_id ${ID}, event_id ${ID}, at datetime(3) NOT NULL,
        kind varchar(12) NOT NULL, subject_id char(36) CHARACTER SET ascii NULL, PRIMARY KEY (id),
        KEY changes_of_event (house_id, event_id, at),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE viewers_have');
  }
}
