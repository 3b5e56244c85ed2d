import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** What viewers tell of missing picture or sound. */
export class ViewerReports1769000000000 implements MigrationInterface {
  name = 'ViewerReports1769000000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE viewer_reports (id ${ID}, house_id ${ID}, event_id ${ID}, \`at\` datetime(3) NOT NULL,
        complaint varchar(10) NOT NULL, finding varchar(20) NOT NULL, device varchar(80) NOT NULL, moments text NOT NULL,
        PRIMARY KEY (id), KEY of_event (house_id, event_id, \`at\`, id), KEY old (\`at\`),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE viewer_reports');
  }
}
