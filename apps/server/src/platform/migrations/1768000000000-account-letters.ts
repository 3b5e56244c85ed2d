import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a house was last written to about an account, so that nobody reads the same twice; and when a platform was last asked what is there. */
export class AccountLetters1768000000000 implements MigrationInterface {
  name = 'AccountLetters1768000000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      'ALTER TABLE accounts ADD told_trouble varchar(200) NULL, ADD looked_at datetime(3) NULL',
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE accounts DROP told_trouble, DROP looked_at');
  }
}
