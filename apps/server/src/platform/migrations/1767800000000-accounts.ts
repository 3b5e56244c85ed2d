import type { MigrationInterface, QueryRunner } from 'typeorm';

const REF = 'char(36) CHARACTER SET ascii';
const ID = `${REF} NOT NULL`;

/** Accounts at platforms of others, where they may post, and who has been asked for a consent. */
export class Accounts1767800000000 implements MigrationInterface {
  name = 'Accounts1767800000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE accounts (id ${ID}, house_id ${ID}, platform varchar(20) NOT NULL, id_there varchar(100) NOT NULL,
        name varchar(200) NOT NULL, audience varchar(10) NULL, sealed_access_token text NOT NULL,
        sealed_refresh_token text NOT NULL, access_ends_at datetime(3) NOT NULL, consent_ends_at datetime(3) NOT NULL,
        ended_at datetime(3) NULL, claimed_until datetime(3) NULL, PRIMARY KEY (id),
        UNIQUE KEY of_house (house_id, id), UNIQUE KEY once (house_id, platform, id_there), KEY due (ended_at, access_ends_at),
        FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE)`,
    );
    await queries.query(
      `CREATE TABLE outlets (id ${ID}, house_id ${ID}, account_id ${ID}, id_there varchar(100) NOT NULL,
        kind varchar(10) NOT NULL, name varchar(200) NOT NULL, is_chosen tinyint NOT NULL, has_let_in tinyint NOT NULL,
        is_there tinyint NOT NULL, PRIMARY KEY (id), UNIQUE KEY of_house (house_id, id),
        UNIQUE KEY once (account_id, id_there), KEY by_name (house_id, account_id, name),
        FOREIGN KEY (house_id, account_id) REFERENCES accounts (house_id, id) ON DELETE CASCADE)`,
    );
    await queries.query(
      `CREATE TABLE consent_asks (id ${ID}, house_id ${ID}, person_id ${ID}, platform varchar(20) NOT NULL,
        account_id ${REF} NULL, state_sha256_hex char(64) CHARACTER SET ascii NOT NULL, sealed_verifier text NOT NULL,
        expires_at datetime(3) NOT NULL, PRIMARY KEY (id), UNIQUE KEY state (state_sha256_hex), KEY by_end (expires_at),
        FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE,
        FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of ['consent_asks', 'outlets', 'accounts']) await queries.query(`DROP TABLE ${table}`);
  }
}
