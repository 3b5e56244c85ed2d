import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A house, a channel, a series and an event each say what they want of a look; the house's two colours are part of it. */
export class Looks1768600000000 implements MigrationInterface {
  name = 'Looks1768600000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['houses', 'channels', 'series', 'events'])
      await queries.query(`ALTER TABLE ${table} ADD look text NULL`);
    await queries.query(
      `UPDATE houses SET look = JSON_OBJECT('accent', LOWER(accent), 'links', LOWER(accent), 'warm', LOWER(accent_warm))`,
    );
    await queries.query('ALTER TABLE houses DROP accent, DROP accent_warm');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE houses ADD accent varchar(7) NOT NULL DEFAULT '#24405c', ADD accent_warm varchar(7) NOT NULL DEFAULT '#e7b56a'`,
    );
    await queries.query(
      `UPDATE houses SET accent = COALESCE(JSON_VALUE(look, '$.accent'), accent), accent_warm = COALESCE(JSON_VALUE(look, '$.warm'), accent_warm)`,
    );
    for (const table of ['houses', 'channels', 'series', 'events'])
      await queries.query(`ALTER TABLE ${table} DROP look`);
  }
}
