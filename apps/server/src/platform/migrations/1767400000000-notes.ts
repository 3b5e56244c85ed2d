import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Notes of the desk, with their time. */
export class Notes1767400000000 implements MigrationInterface {
  name = 'Notes1767400000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE notes (id ${ID}, house_id ${ID}, event_id ${ID}, at datetime(3) NOT NULL,
        text varchar(120) NOT NULL, by_name varchar(100) NOT NULL, is_chapter tinyint NOT NULL DEFAULT 0,
        version int NOT NULL DEFAULT 1, PRIMARY KEY (id), KEY notes_of_event (house_id, event_id, at),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE notes');
  }
}
