import type { MigrationInterface, QueryRunner } from 'typeorm';

/** On which website a page of a house was first seen, and when. */
export class SiteSeen1766600000000 implements MigrationInterface {
  name = 'SiteSeen1766600000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      'ALTER TABLE houses ADD site_seen_at datetime(3) NULL, ADD site_host varchar(255) NULL',
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE houses DROP site_seen_at, DROP site_host');
  }
}
