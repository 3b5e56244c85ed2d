import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Several media nodes: what each says of itself, and which of them has what. */
export class Nodes1765900000000 implements MigrationInterface {
  name = 'Nodes1765900000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE media_nodes
      ADD self text NULL,
      ADD added_at datetime(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
      ADD last_seen_at datetime(3) NULL`);
    await queries.query(`ALTER TABLE sources ADD node_id varchar(60) NULL`);
    await queries.query(`ALTER TABLE events
      ADD node_id varchar(60) NULL,
      ADD leg int NOT NULL DEFAULT 0`);
    // Until now there was one, whichever it was.
    await queries.query(`UPDATE events SET node_id = (SELECT id FROM media_nodes ORDER BY id LIMIT 1)
      WHERE state IN ('doors', 'air', 'kept')`);
    await queries.query(`CREATE TABLE programme_legs (
      programme_id char(36) NOT NULL,
      leg int NOT NULL,
      house_id char(36) NOT NULL,
      node_id varchar(60) NOT NULL,
      PRIMARY KEY (programme_id, leg),
      KEY legs_of_node (node_id)
    ) ENGINE=InnoDB`);
    await queries.query(`ALTER TABLE removals ADD node_id varchar(60) NOT NULL DEFAULT ''`);
    await queries.query(`UPDATE removals
      SET node_id = COALESCE((SELECT id FROM media_nodes ORDER BY id LIMIT 1), '')`);
    await queries.query(`ALTER TABLE removals
      DROP PRIMARY KEY,
      ADD PRIMARY KEY (programme_id, node_id),
      MODIFY node_id varchar(60) NOT NULL`);
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE removals DROP PRIMARY KEY, ADD PRIMARY KEY (programme_id)`);
    await queries.query('ALTER TABLE removals DROP node_id');
    await queries.query('DROP TABLE programme_legs');
    await queries.query('ALTER TABLE events DROP node_id, DROP leg');
    await queries.query('ALTER TABLE sources DROP node_id');
    await queries.query('ALTER TABLE media_nodes DROP self, DROP added_at, DROP last_seen_at');
  }
}
