import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Smaller pictures beside the original, chosen for each event and series; each place gets the one that is chosen for it. */
export class Renditions1768500000000 implements MigrationInterface {
  name = 'Renditions1768500000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series'])
      await queries.query(
        `ALTER TABLE ${table} ADD renditions varchar(40) NOT NULL DEFAULT 'off', ADD keeps_renditions tinyint NOT NULL DEFAULT 1`,
      );
    await queries.query('ALTER TABLE event_destinations ADD rendition varchar(5) NULL');
    await queries.query('ALTER TABLE houses ADD own_sizes text NULL');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE houses DROP own_sizes');
    await queries.query('ALTER TABLE event_destinations DROP rendition');
    for (const table of ['events', 'series'])
      await queries.query(`ALTER TABLE ${table} DROP keeps_renditions, DROP renditions`);
  }
}
