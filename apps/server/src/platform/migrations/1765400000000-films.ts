import type { MigrationInterface, QueryRunner } from 'typeorm';

const OF_FILES = 'FOREIGN KEY (house_id, film_id) REFERENCES files (house_id, id)';

/** The film that an event begins with, how long it is, and whether the desk has passed over it. */
export class Films1765400000000 implements MigrationInterface {
  name = 'Films1765400000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['events', 'series'])
      await queries.query(
        `ALTER TABLE ${table} ADD film_id char(36) CHARACTER SET ascii NULL, ADD film_ms int NOT NULL DEFAULT 0,
          ADD KEY ${table}_film (house_id, film_id), ADD CONSTRAINT film_of_${table} ${OF_FILES}`,
      );
    await queries.query('ALTER TABLE events ADD film_skipped tinyint(1) NOT NULL DEFAULT 0');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP film_skipped');
    for (const table of ['events', 'series'])
      await queries.query(
        `ALTER TABLE ${table} DROP FOREIGN KEY film_of_${table}, DROP KEY ${table}_film, DROP film_id, DROP film_ms`,
      );
  }
}
