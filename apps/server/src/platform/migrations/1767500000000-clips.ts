import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Clips are recordings too: an event may have several, each with its own address. */
export class Clips1767500000000 implements MigrationInterface {
  name = 'Clips1767500000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE recordings ADD kind varchar(10) NOT NULL DEFAULT 'whole', ADD slug varchar(100) NULL,
        ADD made_from text NULL, ADD KEY recordings_of_event (house_id, event_id, kind),
        ADD KEY recordings_of_programme (programme_id), ADD KEY clips_in_the_making (kind, duration_ms),
        DROP KEY recordings_event`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(`DELETE FROM recordings WHERE kind = 'clip'`);
    await queries.query(
      `ALTER TABLE recordings ADD UNIQUE KEY recordings_event (house_id, event_id), DROP KEY recordings_of_event,
        DROP KEY recordings_of_programme, DROP KEY clips_in_the_making, DROP made_from, DROP slug, DROP kind`,
    );
  }
}
