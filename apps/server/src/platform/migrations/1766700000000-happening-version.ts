import type { MigrationInterface, QueryRunner } from 'typeorm';

/** In which version the payload of a happening is written down. */
export class HappeningVersion1766700000000 implements MigrationInterface {
  name = 'HappeningVersion1766700000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE happenings ADD version int NOT NULL DEFAULT 1');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE happenings DROP version');
  }
}
