import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Who holds the desk of an event. */
export class DeskHolders1767600000000 implements MigrationInterface {
  name = 'DeskHolders1767600000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE desk_holders (event_id ${ID}, house_id ${ID}, person_id ${ID}, name varchar(120) NOT NULL,
        at datetime(3) NOT NULL, PRIMARY KEY (event_id), KEY desk_holders_event (house_id, event_id),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE desk_holders');
  }
}
