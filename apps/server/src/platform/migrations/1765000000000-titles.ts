import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Titles by themselves, so that a search reads no whole events. */
export class Titles1765000000000 implements MigrationInterface {
  name = 'Titles1765000000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events ADD KEY events_title (house_id, title)');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP KEY events_title');
  }
}
