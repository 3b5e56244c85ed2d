import type { MigrationInterface, QueryRunner } from 'typeorm';

/** After a backup was put back: media nodes that are to tell once more what they have kept. */
export class TellsAnew1766400000000 implements MigrationInterface {
  name = 'TellsAnew1766400000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE media_nodes ADD tells_anew tinyint(1) NOT NULL DEFAULT 0');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE media_nodes DROP tells_anew');
  }
}
