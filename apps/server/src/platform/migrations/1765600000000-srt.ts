import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Sources that are reached over SRT too: each has a port and a passphrase of its own. */
export class Srt1765600000000 implements MigrationInterface {
  name = 'Srt1765600000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE sources ADD srt_slot int NULL, ADD sealed_passphrase text NULL,
        ADD srt_latency_ms int NOT NULL DEFAULT 200, ADD UNIQUE KEY sources_srt_slot (srt_slot)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(
      'ALTER TABLE sources DROP KEY sources_srt_slot, DROP srt_slot, DROP sealed_passphrase, DROP srt_latency_ms',
    );
  }
}
