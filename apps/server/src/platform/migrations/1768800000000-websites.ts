import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Websites on which something of ours stands, or should. */
export class Websites1768800000000 implements MigrationInterface {
  name = 'Websites1768800000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE websites (id ${ID}, house_id ${ID}, level varchar(10) NOT NULL, subject_id ${ID},
        host varchar(255) NOT NULL, address varchar(1000) NULL, finding text NULL, checked_at datetime(3) NULL,
        gone_since datetime(3) NULL, told_gone_at datetime(3) NULL, seen_at datetime(3) NULL, PRIMARY KEY (id),
        UNIQUE KEY one (house_id, subject_id, host), KEY due (checked_at),
        FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE websites');
  }
}
