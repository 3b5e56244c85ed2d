import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';
const ID_OR_NULL = 'char(36) CHARACTER SET ascii NULL';

/** Series, their places and the dates they leave out; the date of its series that an event is. */
export class Series1764300000000 implements MigrationInterface {
  name = 'Series1764300000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE series (id ${ID}, house_id ${ID}, title varchar(120) NOT NULL, description text NOT NULL,
        slug varchar(100) NOT NULL, poster_id ${ID_OR_NULL}, rule varchar(300) NOT NULL, first_date varchar(10) NOT NULL,
        time_of_day varchar(5) NOT NULL, length_minutes int NOT NULL, zone varchar(64) NOT NULL,
        source_id ${ID_OR_NULL}, chat_open tinyint(1) NOT NULL, doors_minutes int NOT NULL, overrun_minutes int NOT NULL,
        dead_air_minutes int NOT NULL, rewind_minutes int NOT NULL, planned_until varchar(10) NOT NULL,
        version int NOT NULL, PRIMARY KEY (id), UNIQUE KEY series_of_house (house_id, id),
        KEY series_due (planned_until), FOREIGN KEY (house_id) REFERENCES houses (id),
        FOREIGN KEY (house_id, source_id) REFERENCES sources (house_id, id))`,
    );
    await queries.query(
      `CREATE TABLE series_destinations (house_id ${ID}, series_id ${ID}, destination_id ${ID},
        PRIMARY KEY (house_id, series_id, destination_id),
        FOREIGN KEY (house_id, series_id) REFERENCES series (house_id, id) ON DELETE CASCADE,
        FOREIGN KEY (house_id, destination_id) REFERENCES destinations (house_id, id))`,
    );
    await queries.query(
      `CREATE TABLE series_skips (house_id ${ID}, series_id ${ID}, date varchar(10) NOT NULL,
        PRIMARY KEY (house_id, series_id, date),
        FOREIGN KEY (house_id, series_id) REFERENCES series (house_id, id) ON DELETE CASCADE)`,
    );
    await queries.query(
      `ALTER TABLE events ADD series_id ${ID_OR_NULL}, ADD series_date varchar(10) NULL,
        ADD own_fields text NOT NULL DEFAULT '[]', ADD UNIQUE KEY events_series_date (series_id, series_date),
        ADD CONSTRAINT events_series FOREIGN KEY (house_id, series_id) REFERENCES series (house_id, id)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(
      'ALTER TABLE events DROP FOREIGN KEY events_series, DROP KEY events_series_date, DROP series_id, DROP series_date, DROP own_fields',
    );
    for (const table of ['series_skips', 'series_destinations', 'series'])
      await queries.query(`DROP TABLE ${table}`);
  }
}
