import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Places that are chosen together. */
export class PlaceSets1768200000000 implements MigrationInterface {
  name = 'PlaceSets1768200000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE place_sets (id ${ID}, house_id ${ID}, name varchar(60) NOT NULL, destination_ids text NOT NULL, version int NOT NULL,
        PRIMARY KEY (id), UNIQUE KEY called (house_id, name))`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE place_sets');
  }
}
