import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Logos are part of a look, so that a channel, a series or an event may have another; the house's becomes its look's. */
export class Logos1768900000000 implements MigrationInterface {
  name = 'Logos1768900000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE logos (id ${ID}, house_id ${ID}, type varchar(20) NOT NULL, bytes mediumblob NOT NULL,
        created_at datetime(3) NOT NULL, PRIMARY KEY (id), KEY of_house (house_id, created_at),
        FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE)`,
    );
    await queries.query(
      `INSERT INTO logos SELECT UUID(), id, 'image/svg+xml', logo_svg, created_at FROM houses WHERE logo_svg IS NOT NULL`,
    );
    await queries.query(
      `UPDATE houses JOIN logos ON logos.house_id = houses.id
        SET look = JSON_SET(COALESCE(look, '{}'), '$.logo', logos.id)`,
    );
    await queries.query('ALTER TABLE houses DROP logo_svg');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE houses ADD logo_svg text NULL');
    await queries.query(
      `UPDATE houses JOIN logos ON logos.id = JSON_VALUE(look, '$.logo') SET logo_svg = CONVERT(bytes USING utf8mb4)
        WHERE type = 'image/svg+xml'`,
    );
    for (const table of ['houses', 'channels', 'series', 'events'])
      await queries.query(`UPDATE ${table} SET look = JSON_REMOVE(look, '$.logo') WHERE look IS NOT NULL`);
    await queries.query('DROP TABLE logos');
  }
}
