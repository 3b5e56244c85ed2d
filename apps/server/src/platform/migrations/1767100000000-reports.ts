import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How loud an event was as a whole, and whether its signal report was sent. What is over has been read by now. */
export class Reports1767100000000 implements MigrationInterface {
  name = 'Reports1767100000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE events ADD loudness text NULL, ADD reported_at datetime(3) NULL,
        ADD KEY ended_events (state, reported_at, end_at)`,
    );
    await queries.query(`UPDATE events SET reported_at = end_at WHERE state = 'kept'`);
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE events DROP KEY ended_events, DROP reported_at, DROP loudness');
  }
}
