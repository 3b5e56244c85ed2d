import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Pictures that lie behind public pages. */
export class GroundPictures1769200000000 implements MigrationInterface {
  name = 'GroundPictures1769200000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE ground_pictures (id ${ID}, house_id ${ID}, bytes mediumblob NOT NULL,
        spots longtext NOT NULL CHECK (JSON_VALID(spots)), created_at datetime(3) NOT NULL,
        PRIMARY KEY (id), KEY of_house (house_id, created_at),
        FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of ['houses', 'channels', 'series', 'events'])
      await queries.query(`UPDATE ${table} SET look = JSON_REMOVE(look, '$.picture') WHERE look IS NOT NULL`);
    await queries.query('DROP TABLE ground_pictures');
  }
}
