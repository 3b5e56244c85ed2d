import type { MigrationInterface, QueryRunner } from 'typeorm';

const REF = 'char(36) CHARACTER SET ascii';
const ID = `${REF} NOT NULL`;

/**
 * A place may be an outlet of a linked account, and events are posted there ahead of time. A posting outlives its event
 * until it has been taken down over there.
 */
export class Postings1767900000000 implements MigrationInterface {
  name = 'Postings1767900000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE destinations MODIFY scheme varchar(5) NULL, MODIFY host varchar(255) NULL, MODIFY port int NULL,
        MODIFY application varchar(255) NULL, MODIFY sealed_stream_name text NULL, ADD outlet_id ${REF} NULL,
        ADD UNIQUE KEY of_outlet (house_id, outlet_id),
        ADD CONSTRAINT destinations_outlet FOREIGN KEY (house_id, outlet_id) REFERENCES outlets (house_id, id)`,
    );
    await queries.query(
      `CREATE TABLE postings (id ${ID}, house_id ${ID}, event_id ${ID}, destination_id ${ID}, outlet_id ${ID},
        id_there varchar(100) NULL, state varchar(10) NULL, told text NULL, link varchar(500) NULL, sealed_ingest text NULL,
        seen_at datetime(3) NULL, trouble varchar(20) NULL, attempts int NOT NULL, next_try_at datetime(3) NOT NULL, done_at datetime(3) NULL,
        PRIMARY KEY (id), UNIQUE KEY once (event_id, destination_id), KEY open (done_at, next_try_at),
        FOREIGN KEY (house_id, outlet_id) REFERENCES outlets (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE postings');
    await queries.query('DELETE FROM destinations WHERE outlet_id IS NOT NULL');
    await queries.query(
      `ALTER TABLE destinations DROP FOREIGN KEY destinations_outlet, DROP KEY of_outlet, DROP outlet_id,
        MODIFY scheme varchar(5) NOT NULL, MODIFY host varchar(255) NOT NULL, MODIFY port int NOT NULL,
        MODIFY application varchar(255) NOT NULL, MODIFY sealed_stream_name text NOT NULL`,
    );
  }
}
