import type { MigrationInterface, QueryRunner } from 'typeorm';

/** When something last came from a source. */
export class LastSeen1765800000000 implements MigrationInterface {
  name = 'LastSeen1765800000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE sources ADD last_seen_at datetime(3) NULL');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE sources DROP last_seen_at');
  }
}
