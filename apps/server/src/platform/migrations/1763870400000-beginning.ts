import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';
const ID_OR_NULL = 'char(36) CHARACTER SET ascii NULL';
const AT = 'datetime(3) NOT NULL';
const AT_OR_NULL = 'datetime(3) NULL';
const OF_HOUSE = 'FOREIGN KEY (house_id) REFERENCES houses (id)';

/** Houses, people, events, sources, destinations, recordings, chat, and what the control link needs. */
export class Beginning1763870400000 implements MigrationInterface {
  name = 'Beginning1763870400000';

  async up(queries: QueryRunner): Promise<void> {
    for (const statement of TABLES) await queries.query(statement);
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const statement of [...TABLES].reverse()) {
      await queries.query(`DROP TABLE ${/CREATE TABLE (\w+)/.exec(statement)![1]}`);
    }
  }
}

const TABLES = [
  `CREATE TABLE houses (id ${ID}, name varchar(120) NOT NULL, zone varchar(64) NOT NULL, logo_svg text NULL,
    accent varchar(7) NOT NULL, accent_warm varchar(7) NOT NULL, rules text NOT NULL, created_at ${AT},
    version int NOT NULL, PRIMARY KEY (id))`,
  `CREATE TABLE people (id ${ID}, email varchar(254) NOT NULL, name varchar(120) NOT NULL,
    password_hash varchar(255) NOT NULL, created_at ${AT}, PRIMARY KEY (id), UNIQUE KEY people_email (email))`,
  `CREATE TABLE memberships (person_id ${ID}, house_id ${ID}, roles text NOT NULL, PRIMARY KEY (person_id, house_id),
    ${OF_HOUSE}, FOREIGN KEY (person_id) REFERENCES people (id))`,
  `CREATE TABLE credentials (id ${ID}, kind varchar(10) NOT NULL, person_id ${ID}, house_id ${ID},
    name varchar(80) NOT NULL, secret_sha256_hex varchar(64) NOT NULL, created_at ${AT}, expires_at ${AT},
    PRIMARY KEY (id), UNIQUE KEY credentials_secret (secret_sha256_hex), KEY credentials_expiry (expires_at),
    FOREIGN KEY (person_id, house_id) REFERENCES memberships (person_id, house_id))`,
  `CREATE TABLE addresses (slug varchar(100) NOT NULL, house_id ${ID}, kind varchar(20) NOT NULL, target_id ${ID},
    retired_at ${AT_OR_NULL}, PRIMARY KEY (slug), KEY addresses_target (target_id), ${OF_HOUSE})`,
  `CREATE TABLE happenings (id bigint NOT NULL AUTO_INCREMENT, house_id ${ID}, subject_kind varchar(20) NOT NULL,
    subject_id ${ID}, at ${AT}, \`by\` varchar(36) NOT NULL, kind varchar(60) NOT NULL, \`before\` text NULL,
    \`after\` text NULL, PRIMARY KEY (id), KEY happenings_house (house_id, id),
    KEY happenings_subject (house_id, subject_id, id), ${OF_HOUSE})`,
  `CREATE TABLE sources (id ${ID}, house_id ${ID}, name varchar(60) NOT NULL, user varchar(40) NOT NULL,
    key_sha256_hex varchar(64) NOT NULL, sealed_key text NOT NULL, sealed_password text NOT NULL,
    has_password tinyint(1) NOT NULL, salt varchar(32) NOT NULL, password_verifier varchar(32) NOT NULL,
    key_renewed_at ${AT}, version int NOT NULL, PRIMARY KEY (id), UNIQUE KEY sources_of_house (house_id, id),
    UNIQUE KEY sources_user (user), UNIQUE KEY sources_key (key_sha256_hex), ${OF_HOUSE})`,
  `CREATE TABLE destinations (id ${ID}, house_id ${ID}, name varchar(60) NOT NULL, host varchar(255) NOT NULL,
    port int NOT NULL, application varchar(255) NOT NULL, sealed_stream_name text NOT NULL, version int NOT NULL,
    PRIMARY KEY (id), UNIQUE KEY destinations_of_house (house_id, id), ${OF_HOUSE})`,
  `CREATE TABLE events (id ${ID}, house_id ${ID}, title varchar(120) NOT NULL, description text NOT NULL,
    slug varchar(100) NOT NULL, poster_id ${ID_OR_NULL}, starts_at ${AT}, stops_at ${AT}, doors_due_at ${AT},
    hard_stop_at ${AT}, zone varchar(64) NOT NULL, source_id ${ID_OR_NULL}, chat_open tinyint(1) NOT NULL,
    doors_minutes int NOT NULL, overrun_minutes int NOT NULL, dead_air_minutes int NOT NULL,
    rewind_minutes int NOT NULL, state varchar(10) NOT NULL, programme_id ${ID}, doors_at ${AT_OR_NULL},
    air_at ${AT_OR_NULL}, end_at ${AT_OR_NULL}, end_cause varchar(30) NULL, last_command_id ${ID_OR_NULL},
    last_command_kind varchar(12) NULL, last_command_at ${AT_OR_NULL}, grants_valid_from ${AT}, version int NOT NULL,
    PRIMARY KEY (id), UNIQUE KEY events_of_house (house_id, id), UNIQUE KEY events_programme (programme_id),
    KEY events_due (state, doors_due_at), KEY events_week (house_id, starts_at),
    KEY events_source (house_id, source_id, starts_at), ${OF_HOUSE},
    FOREIGN KEY (house_id, source_id) REFERENCES sources (house_id, id))`,
  `CREATE TABLE event_destinations (house_id ${ID}, event_id ${ID}, destination_id ${ID},
    PRIMARY KEY (house_id, event_id, destination_id),
    FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE,
    FOREIGN KEY (house_id, destination_id) REFERENCES destinations (house_id, id))`,
  `CREATE TABLE commands (id ${ID}, house_id ${ID}, event_id ${ID}, kind varchar(20) NOT NULL, at ${AT},
    PRIMARY KEY (id), FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
  `CREATE TABLE recordings (id ${ID}, house_id ${ID}, event_id ${ID}, programme_id ${ID}, air_at ${AT},
    duration_ms int NOT NULL, size_bytes bigint NOT NULL, kept_until ${AT}, PRIMARY KEY (id),
    UNIQUE KEY recordings_event (house_id, event_id), KEY recordings_archive (house_id, air_at, id), ${OF_HOUSE},
    FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id))`,
  `CREATE TABLE chat_rooms (event_id ${ID}, house_id ${ID}, last_seq bigint NOT NULL, PRIMARY KEY (event_id),
    FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
  `CREATE TABLE chat_people (id ${ID}, house_id ${ID}, event_id ${ID}, name varchar(40) NOT NULL,
    token_sha256_hex varchar(64) NOT NULL, joined_at ${AT}, PRIMARY KEY (id), UNIQUE KEY chat_token (token_sha256_hex),
    FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
  `CREATE TABLE chat_messages (id ${ID}, house_id ${ID}, event_id ${ID}, author_id ${ID}, author varchar(120) NOT NULL,
    by_house tinyint(1) NOT NULL, text text NOT NULL, at ${AT}, seq bigint NOT NULL, hidden_by varchar(120) NULL,
    PRIMARY KEY (id), UNIQUE KEY chat_order (event_id, seq),
    FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
  `CREATE TABLE media_nodes (id varchar(60) NOT NULL, secret_sha256_hex varchar(64) NOT NULL,
    last_journal_seq bigint NOT NULL, PRIMARY KEY (id))`,
  `CREATE TABLE grant_keys (id varchar(32) NOT NULL, sealed_secret text NOT NULL, created_at ${AT}, PRIMARY KEY (id))`,
];
