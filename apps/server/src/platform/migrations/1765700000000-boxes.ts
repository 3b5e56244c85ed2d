import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii';
const HASH = 'char(64) CHARACTER SET ascii';

/** Encoder boxes that pair by a short code, and the codes that are waiting. */
export class Boxes1765700000000 implements MigrationInterface {
  name = 'Boxes1765700000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE boxes (id ${ID} NOT NULL, house_id ${ID} NOT NULL, source_id ${ID} NOT NULL, name varchar(60) NOT NULL,
        model varchar(60) NOT NULL, token_sha256_hex ${HASH} NULL, paired_at datetime(3) NOT NULL, last_seen_at datetime(3) NULL,
        report text NULL, version int NOT NULL, PRIMARY KEY (id), UNIQUE KEY boxes_of_house (house_id, id),
        UNIQUE KEY boxes_token (token_sha256_hex), KEY boxes_name (house_id, name),
        FOREIGN KEY (house_id, source_id) REFERENCES sources (house_id, id))`,
    );
    await queries.query(
      `CREATE TABLE pairings (id ${ID} NOT NULL, device_code_sha256_hex ${HASH} NOT NULL, user_code char(9) CHARACTER SET ascii NOT NULL,
        model varchar(60) NOT NULL, state varchar(8) NOT NULL, box_id ${ID} NULL, expires_at datetime(3) NOT NULL,
        last_asked_at datetime(3) NULL, interval_ms int NOT NULL, PRIMARY KEY (id),
        UNIQUE KEY pairings_device (device_code_sha256_hex), UNIQUE KEY pairings_code (user_code), KEY pairings_expiry (expires_at))`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE pairings');
    await queries.query('DROP TABLE boxes');
  }
}
