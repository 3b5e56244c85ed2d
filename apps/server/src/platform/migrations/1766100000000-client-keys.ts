import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** Ids are ours; what a browser sends to be known by when it repeats itself counts within one author, or one event. */
export class ClientKeys1766100000000 implements MigrationInterface {
  name = 'ClientKeys1766100000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE chat_messages ADD client_key ${ID} DEFAULT ''`);
    await queries.query('UPDATE chat_messages SET client_key = id');
    await queries.query(`ALTER TABLE chat_messages MODIFY client_key ${ID},
      ADD UNIQUE KEY chat_client_key (event_id, author_id, client_key)`);
    await queries.query('ALTER TABLE commands DROP PRIMARY KEY, ADD PRIMARY KEY (event_id, id)');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE commands DROP PRIMARY KEY, ADD PRIMARY KEY (id)');
    await queries.query('ALTER TABLE chat_messages DROP KEY chat_client_key, DROP client_key');
  }
}
