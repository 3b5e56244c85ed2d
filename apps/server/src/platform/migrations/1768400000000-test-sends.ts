import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Places that a rehearsal tries out for some seconds. */
export class TestSends1768400000000 implements MigrationInterface {
  name = 'TestSends1768400000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE test_sends (id ${ID}, house_id ${ID}, event_id ${ID}, destination_id ${ID}, began_at datetime(3) NOT NULL,
        result varchar(20) NULL, PRIMARY KEY (id), UNIQUE KEY once (house_id, event_id, destination_id), KEY open (result),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE,
        FOREIGN KEY (house_id, destination_id) REFERENCES destinations (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE test_sends');
  }
}
