import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Events that are only being thought about. */
export class Drafts1765100000000 implements MigrationInterface {
  name = 'Drafts1765100000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events ADD is_draft tinyint(1) NOT NULL DEFAULT 0');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP is_draft');
  }
}
