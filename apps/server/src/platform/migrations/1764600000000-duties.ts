import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';
const MEMBER =
  'FOREIGN KEY (person_id, house_id) REFERENCES memberships (person_id, house_id) ON DELETE CASCADE';

/** Who is on duty at an event, who takes turns in a series, what each was told, and a calendar of one's own duties. */
export class Duties1764600000000 implements MigrationInterface {
  name = 'Duties1764600000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE event_duties (house_id ${ID}, event_id ${ID}, duty varchar(10) NOT NULL, person_id ${ID},
        answer varchar(3) NULL, note varchar(200) NOT NULL,
        PRIMARY KEY (house_id, event_id, duty, person_id), KEY duties_of_person (house_id, person_id),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE, ${MEMBER})`,
    );
    await queries.query(
      `CREATE TABLE series_duties (house_id ${ID}, series_id ${ID}, duty varchar(10) NOT NULL, person_id ${ID},
        turn int NOT NULL, PRIMARY KEY (house_id, series_id, duty, person_id),
        FOREIGN KEY (house_id, series_id) REFERENCES series (house_id, id) ON DELETE CASCADE, ${MEMBER})`,
    );
    // Without a key to events: who was asked is told when one is deleted.
    await queries.query(
      `CREATE TABLE told_duties (house_id ${ID}, event_id ${ID}, duty varchar(10) NOT NULL, person_id ${ID},
        title varchar(120) NOT NULL, starts_at datetime(3) NOT NULL, is_off tinyint(1) NOT NULL,
        PRIMARY KEY (house_id, event_id, duty, person_id), KEY told_duties_past (starts_at), ${MEMBER})`,
    );
    // The foreign key goes on leaning on the primary key, which begins with the same columns.
    await queries.query(
      `ALTER TABLE calendars ADD kind varchar(10) NOT NULL DEFAULT 'house', DROP PRIMARY KEY,
        ADD PRIMARY KEY (person_id, house_id, kind)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(`DELETE FROM calendars WHERE kind <> 'house'`);
    await queries.query(
      'ALTER TABLE calendars DROP PRIMARY KEY, DROP kind, ADD PRIMARY KEY (person_id, house_id)',
    );
    for (const table of ['told_duties', 'series_duties', 'event_duties'])
      await queries.query(`DROP TABLE ${table}`);
  }
}
