import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What viewers see while a picture is away, and after how long. */
export class Slates1766900000000 implements MigrationInterface {
  name = 'Slates1766900000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE houses ADD slate_words varchar(160) NULL');
    await queries.query(
      `ALTER TABLE recordings ADD gaps_ms int NOT NULL DEFAULT 0, ADD keeps_gaps tinyint NOT NULL DEFAULT 0,
        ADD KEY with_gaps (keeps_gaps)`,
    );
    for (const table of ['events', 'series'])
      await queries.query(`ALTER TABLE ${table} ADD slate_after_seconds decimal(3,1) NOT NULL DEFAULT 1.5`);
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series'])
      await queries.query(`ALTER TABLE ${table} DROP slate_after_seconds`);
    await queries.query('ALTER TABLE recordings DROP KEY with_gaps, DROP keeps_gaps, DROP gaps_ms');
    await queries.query('ALTER TABLE houses DROP slate_words');
  }
}
