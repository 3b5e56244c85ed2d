import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which journal a media node's last number counts in: one that begins again begins at 1. */
export class Journals1766300000000 implements MigrationInterface {
  name = 'Journals1766300000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE media_nodes ADD journal_id char(36) CHARACTER SET ascii NULL');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE media_nodes DROP journal_id');
  }
}
