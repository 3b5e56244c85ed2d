import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The letter of the morning: who wants it, and on which day each house last had it. */
export class Mornings1764700000000 implements MigrationInterface {
  name = 'Mornings1764700000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE memberships ADD morning_letter tinyint(1) NOT NULL DEFAULT 1');
    await queries.query(
      `CREATE TABLE mornings (house_id char(36) CHARACTER SET ascii NOT NULL, told_on varchar(10) NOT NULL,
        PRIMARY KEY (house_id), FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE mornings');
    await queries.query('ALTER TABLE memberships DROP morning_letter');
  }
}
