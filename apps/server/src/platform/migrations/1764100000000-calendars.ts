import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Private calendar addresses; they end with the membership they belong to. */
export class Calendars1764100000000 implements MigrationInterface {
  name = 'Calendars1764100000000';

  async up(queries: QueryRunner): Promise<void> {
    const id = 'char(36) CHARACTER SET ascii NOT NULL';
    await queries.query(
      `CREATE TABLE calendars (person_id ${id}, house_id ${id}, secret_sha256_hex varchar(64) NOT NULL,
        sealed_secret text NOT NULL, created_at datetime(3) NOT NULL, PRIMARY KEY (person_id, house_id),
        UNIQUE KEY calendars_secret (secret_sha256_hex),
        FOREIGN KEY (person_id, house_id) REFERENCES memberships (person_id, house_id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE calendars');
  }
}
