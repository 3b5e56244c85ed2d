import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A second source stands by for the first. */
export class Standby1767300000000 implements MigrationInterface {
  name = 'Standby1767300000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series'])
      await queries.query(
        `ALTER TABLE ${table} ADD standby_source_id char(36) CHARACTER SET ascii NULL,
          ADD standby_after_seconds decimal(3,1) NOT NULL DEFAULT 1.0`,
      );
    await queries.query('ALTER TABLE events ADD prefers_standby tinyint NOT NULL DEFAULT 0');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP prefers_standby');
    for (const table of ['events', 'series'])
      await queries.query(`ALTER TABLE ${table} DROP standby_after_seconds, DROP standby_source_id`);
  }
}
