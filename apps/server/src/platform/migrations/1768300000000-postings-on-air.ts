import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/**
 * What becomes of a posting while its event is on: how it ended, what came after it, who watches, what is said; and where
 * the viewers of an event were.
 */
export class PostingsOnAir1768300000000 implements MigrationInterface {
  name = 'PostingsOnAir1768300000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `ALTER TABLE postings ADD part int NOT NULL DEFAULT 1, ADD ended_because varchar(20) NULL,
        ADD is_asked_again tinyint NOT NULL DEFAULT 0, ADD viewers int NULL, ADD comments_after varchar(100) NULL,
        ADD asked_at datetime(3) NULL`,
    );
    await queries.query(
      `CREATE TABLE posting_comments (id ${ID}, posting_id ${ID}, id_there varchar(100) NOT NULL, house_id ${ID}, event_id ${ID},
        destination_id ${ID}, author varchar(200) NOT NULL, text text NOT NULL, at datetime(3) NOT NULL,
        PRIMARY KEY (id), UNIQUE KEY once (posting_id, id_there), KEY of_event (house_id, event_id, at, id),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
    await queries.query(
      `CREATE TABLE event_viewers (house_id ${ID}, event_id ${ID}, place varchar(120) NOT NULL, most int NOT NULL,
        viewer_ms bigint NOT NULL, PRIMARY KEY (house_id, event_id, place),
        FOREIGN KEY (house_id, event_id) REFERENCES events (house_id, id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE event_viewers');
    await queries.query('DROP TABLE posting_comments');
    await queries.query(
      `ALTER TABLE postings DROP part, DROP ended_because, DROP is_asked_again, DROP viewers, DROP comments_after, DROP asked_at`,
    );
  }
}
