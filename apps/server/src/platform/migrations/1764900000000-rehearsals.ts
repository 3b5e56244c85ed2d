import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which event a private rehearsal is of. */
export class Rehearsals1764900000000 implements MigrationInterface {
  name = 'Rehearsals1764900000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE events ADD rehearsal_of char(36) CHARACTER SET ascii NULL,
        ADD KEY events_rehearsal_of (house_id, rehearsal_of, starts_at)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP KEY events_rehearsal_of, DROP rehearsal_of');
  }
}
