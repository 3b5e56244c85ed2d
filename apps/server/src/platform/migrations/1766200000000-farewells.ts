import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Houses that were deleted, until the last media node has taken what it had of them off its disk. */
export class Farewells1766200000000 implements MigrationInterface {
  name = 'Farewells1766200000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`CREATE TABLE farewells (house_id char(36) CHARACTER SET ascii NOT NULL,
      house_name varchar(120) NOT NULL, email varchar(254) NOT NULL, name varchar(120) NOT NULL,
      at datetime(3) NOT NULL, PRIMARY KEY (house_id))`);
    await queries.query('ALTER TABLE removals ADD KEY removals_of_house (house_id)');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE removals DROP KEY removals_of_house');
    await queries.query('DROP TABLE farewells');
  }
}
