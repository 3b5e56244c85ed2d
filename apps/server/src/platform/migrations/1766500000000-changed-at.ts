import type { MigrationInterface, QueryRunner } from 'typeorm';

/** When events and series were last changed: what calendars say of them. */
export class ChangedAt1766500000000 implements MigrationInterface {
  name = 'ChangedAt1766500000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series'])
      await queries.query(
        `ALTER TABLE ${table} ADD changed_at datetime(3) NOT NULL
           DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3)`,
      );
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series']) await queries.query(`ALTER TABLE ${table} DROP changed_at`);
  }
}
