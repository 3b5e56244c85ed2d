import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Which language a house's pages speak, and those it made itself. */
export class Languages1769100000000 implements MigrationInterface {
  name = 'Languages1769100000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query("ALTER TABLE houses ADD language varchar(35) NOT NULL DEFAULT 'en-GB'");
    await queries.query(
      `CREATE TABLE languages (id ${ID}, house_id ${ID}, tag varchar(35) NOT NULL, name varchar(60) NOT NULL,
        words longtext NOT NULL CHECK (JSON_VALID(words)), kept_at datetime(3) NOT NULL,
        PRIMARY KEY (id), UNIQUE KEY tag (house_id, tag),
        FOREIGN KEY (house_id) REFERENCES houses (id))`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE languages');
    await queries.query('ALTER TABLE houses DROP COLUMN language');
  }
}
