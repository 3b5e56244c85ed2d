import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which entry of a calendar file an event or a series came from, so that the same file makes nothing twice. */
export class Imports1764500000000 implements MigrationInterface {
  name = 'Imports1764500000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series'])
      await queries.query(
        `ALTER TABLE ${table} ADD import_uid varchar(255) NULL, ADD KEY ${table}_import (house_id, import_uid)`,
      );
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series'])
      await queries.query(`ALTER TABLE ${table} DROP KEY ${table}_import, DROP import_uid`);
  }
}
