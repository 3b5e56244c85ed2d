import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Pictures, films and sounds of the house; and how to find what uses them as posters. */
export class Files1765300000000 implements MigrationInterface {
  name = 'Files1765300000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE files (id ${ID}, house_id ${ID}, name varchar(120) NOT NULL, kind varchar(8) NULL,
        state varchar(8) NOT NULL, refusal varchar(30) NULL, size_bytes bigint NOT NULL, facts text NULL,
        made_percent int NOT NULL, claimed_until datetime(3) NULL, added_at datetime(3) NOT NULL,
        binned_at datetime(3) NULL, version int NOT NULL, PRIMARY KEY (id), UNIQUE KEY files_of_house (house_id, id),
        KEY files_added (house_id, added_at, id), KEY files_due (state, claimed_until), KEY files_bin (binned_at),
        FOREIGN KEY (house_id) REFERENCES houses (id))`,
    );
    for (const table of USING)
      await queries.query(`ALTER TABLE ${table} ADD KEY ${table}_poster (house_id, poster_id)`);
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of USING) await queries.query(`ALTER TABLE ${table} DROP KEY ${table}_poster`);
    await queries.query('DROP TABLE files');
  }
}

const USING = ['events', 'series', 'recordings'];
