import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';
const AT = 'datetime(3) NOT NULL';
const AT_OR_NULL = 'datetime(3) NULL';

/** People's letters, second factors and tokens; secure places; recordings with a name, a picture and a bin; hidden people in chat. */
export class HouseInFull1764000000000 implements MigrationInterface {
  name = 'HouseInFull1764000000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const statement of UP) await queries.query(statement);
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const statement of DOWN) await queries.query(statement);
  }
}

const UP = [
  `ALTER TABLE people ADD COLUMN sealed_totp text NULL, ADD COLUMN totp_since ${AT_OR_NULL}`,
  `ALTER TABLE credentials ADD COLUMN scopes text NULL, ADD COLUMN device varchar(200) NOT NULL DEFAULT '',
    ADD COLUMN last_used_at ${AT_OR_NULL}, ADD KEY credentials_person (person_id, house_id, kind)`,
  `CREATE TABLE recovery_codes (id ${ID}, person_id ${ID}, code_sha256_hex varchar(64) NOT NULL, used_at ${AT_OR_NULL},
    PRIMARY KEY (id), KEY recovery_codes_person (person_id), FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE)`,
  `CREATE TABLE invitations (id ${ID}, house_id ${ID}, kind varchar(10) NOT NULL, email varchar(254) NOT NULL,
    name varchar(120) NOT NULL, roles text NOT NULL, secret_sha256_hex varchar(64) NOT NULL, created_at ${AT},
    expires_at ${AT}, used_at ${AT_OR_NULL}, PRIMARY KEY (id), UNIQUE KEY invitations_secret (secret_sha256_hex),
    KEY invitations_house (house_id, used_at, expires_at), FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE)`,
  `CREATE TABLE letters (id ${ID}, recipient varchar(254) NOT NULL, subject varchar(200) NOT NULL, sealed_text text NOT NULL,
    attempts int NOT NULL, next_try_at ${AT_OR_NULL}, sent_at ${AT_OR_NULL}, last_fault varchar(200) NULL, created_at ${AT},
    PRIMARY KEY (id), KEY letters_due (next_try_at))`,
  `ALTER TABLE destinations ADD COLUMN scheme varchar(5) NOT NULL DEFAULT 'rtmp', ADD COLUMN sealed_login text NULL`,
  `ALTER TABLE event_destinations ADD COLUMN paused tinyint(1) NOT NULL DEFAULT 0`,
  `ALTER TABLE recordings ADD COLUMN title varchar(120) NULL, ADD COLUMN description text NULL,
    ADD COLUMN poster_id char(36) CHARACTER SET ascii NULL, ADD COLUMN binned_at ${AT_OR_NULL},
    ADD COLUMN version int NOT NULL DEFAULT 1, ADD KEY recordings_bin (binned_at)`,
  `CREATE TABLE removals (programme_id ${ID}, house_id ${ID}, at ${AT}, PRIMARY KEY (programme_id))`,
  `ALTER TABLE chat_people ADD COLUMN hidden_by varchar(120) NULL`,
  `ALTER TABLE chat_messages ADD COLUMN hidden_with_person tinyint(1) NOT NULL DEFAULT 0,
    ADD KEY chat_author (event_id, author_id, seq)`,
  `ALTER TABLE happenings ADD COLUMN undone_by bigint NULL, ADD KEY happenings_by (house_id, \`by\`, id),
    ADD KEY happenings_kind (house_id, kind, id)`,
];

const DOWN = [
  'ALTER TABLE happenings DROP COLUMN undone_by, DROP KEY happenings_by, DROP KEY happenings_kind',
  'ALTER TABLE chat_messages DROP COLUMN hidden_with_person, DROP KEY chat_author',
  'ALTER TABLE chat_people DROP COLUMN hidden_by',
  `ALTER TABLE recordings DROP COLUMN title, DROP COLUMN description, DROP COLUMN poster_id, DROP COLUMN binned_at,
    DROP COLUMN version, DROP KEY recordings_bin`,
  'DROP TABLE removals',
  'ALTER TABLE event_destinations DROP COLUMN paused',
  'ALTER TABLE destinations DROP COLUMN scheme, DROP COLUMN sealed_login',
  'DROP TABLE letters',
  'DROP TABLE invitations',
  'DROP TABLE recovery_codes',
  `ALTER TABLE credentials DROP COLUMN scopes, DROP COLUMN device, DROP COLUMN last_used_at,
    DROP KEY credentials_person`,
  'ALTER TABLE people DROP COLUMN sealed_totp, DROP COLUMN totp_since',
];
