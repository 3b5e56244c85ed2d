import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What viewers are told of an event that does not take place. */
export class Notices1764400000000 implements MigrationInterface {
  name = 'Notices1764400000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events ADD notice varchar(300) NULL');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP notice');
  }
}
