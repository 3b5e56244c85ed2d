import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';
const ID_OR_NULL = 'char(36) CHARACTER SET ascii NULL';

/** Order sheets of events and series, and how the desk moved them on; room for them in the record. */
export class Order1764800000000 implements MigrationInterface {
  name = 'Order1764800000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE order_sheets (id ${ID}, house_id ${ID}, event_id ${ID_OR_NULL}, series_id ${ID_OR_NULL},
        items mediumtext NOT NULL, version int NOT NULL, PRIMARY KEY (id),
        UNIQUE KEY order_of_event (house_id, event_id), UNIQUE KEY order_of_series (house_id, series_id),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE,
        FOREIGN KEY (house_id, series_id) REFERENCES series (house_id, id) ON DELETE CASCADE)`,
    );
    await queries.query(
      `CREATE TABLE order_marks (id ${ID}, house_id ${ID}, event_id ${ID}, at datetime(3) NOT NULL,
        item_id varchar(12) NULL, PRIMARY KEY (id), KEY marks_of_event (house_id, event_id),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
    // What was written before and after, whole: more than a text holds.
    await queries.query(
      'ALTER TABLE happenings MODIFY `before` mediumtext NULL, MODIFY `after` mediumtext NULL',
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query("DELETE FROM happenings WHERE kind = 'order-written'");
    await queries.query('ALTER TABLE happenings MODIFY `before` text NULL, MODIFY `after` text NULL');
    await queries.query('DROP TABLE order_marks');
    await queries.query('DROP TABLE order_sheets');
  }
}
