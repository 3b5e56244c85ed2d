import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What viewers hear while a picture is away. */
export class SlateSound1767700000000 implements MigrationInterface {
  name = 'SlateSound1767700000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE houses ADD slate_sound_id char(36) CHARACTER SET ascii NULL`);
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE houses DROP slate_sound_id');
  }
}
