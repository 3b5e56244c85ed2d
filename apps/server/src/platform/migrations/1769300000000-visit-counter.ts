import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A counter of visits that a house runs itself. */
export class VisitCounter1769300000000 implements MigrationInterface {
  name = 'VisitCounter1769300000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      'ALTER TABLE houses ADD visit_counter longtext NULL CHECK (JSON_VALID(visit_counter))',
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE houses DROP COLUMN visit_counter');
  }
}
