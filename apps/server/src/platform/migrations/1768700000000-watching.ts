import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';
const HASH = 'char(64) CHARACTER SET ascii NOT NULL';
const OF_HOUSE = 'FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE';

/** Who may watch: rules at each level, passwords, people who are invited, and what shows that somebody was let in. */
export class Watching1768700000000 implements MigrationInterface {
  name = 'Watching1768700000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['houses', 'channels', 'series', 'events'])
      await queries.query(`ALTER TABLE ${table} ADD watching text NULL`);
    await queries.query('ALTER TABLE houses ADD grant_turns text NULL');
    await queries.query(
      `CREATE TABLE watch_passwords (id ${ID}, house_id ${ID}, level varchar(10) NOT NULL, subject_id ${ID},
        sealed_password text NOT NULL, changed_at datetime(3) NOT NULL, PRIMARY KEY (id),
        UNIQUE KEY one (house_id, subject_id), ${OF_HOUSE})`,
    );
    await queries.query(
      `CREATE TABLE invited_viewers (id ${ID}, house_id ${ID}, level varchar(10) NOT NULL, subject_id ${ID},
        name varchar(120) NOT NULL, email varchar(254) NOT NULL, secret_sha256_hex ${HASH}, sealed_secret text NOT NULL,
        devices_most int NOT NULL, invited_at datetime(3) NOT NULL, last_came_at datetime(3) NULL,
        withdrawn_at datetime(3) NULL, PRIMARY KEY (id), UNIQUE KEY secret (secret_sha256_hex),
        KEY listed (house_id, subject_id, name, id), ${OF_HOUSE})`,
    );
    await queries.query(
      `CREATE TABLE admissions (id ${ID}, house_id ${ID}, kind varchar(10) NOT NULL, subject_id ${ID},
        invited_id char(36) CHARACTER SET ascii NULL, secret_sha256_hex ${HASH}, password_changed_at datetime(3) NULL,
        seen_at datetime(3) NOT NULL, PRIMARY KEY (id), UNIQUE KEY secret (secret_sha256_hex),
        KEY devices (invited_id, seen_at), KEY unseen (seen_at), ${OF_HOUSE},
        FOREIGN KEY (invited_id) REFERENCES invited_viewers (id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of ['admissions', 'invited_viewers', 'watch_passwords'])
      await queries.query(`DROP TABLE ${table}`);
    await queries.query('ALTER TABLE houses DROP grant_turns');
    for (const table of ['houses', 'channels', 'series', 'events'])
      await queries.query(`ALTER TABLE ${table} DROP watching`);
  }
}
