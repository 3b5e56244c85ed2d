import type { MigrationInterface, QueryRunner } from 'typeorm';

const ID = 'char(36) CHARACTER SET ascii NOT NULL';

/** An address of a house that is told what happens, and what it was told. */
export class Webhooks1767200000000 implements MigrationInterface {
  name = 'Webhooks1767200000000';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      `CREATE TABLE webhooks (house_id ${ID}, address varchar(500) NOT NULL, sealed_secret varchar(200) CHARACTER SET ascii NOT NULL,
        begins_after bigint NOT NULL, looked_until bigint NOT NULL, PRIMARY KEY (house_id),
        FOREIGN KEY (house_id) REFERENCES houses (id) ON DELETE CASCADE)`,
    );
    await queries.query(
      `CREATE TABLE webhook_deliveries (id ${ID}, house_id ${ID}, happening_id bigint NULL, kind varchar(20) NOT NULL,
        body text NOT NULL, attempts int NOT NULL, next_try_at datetime(3) NULL, delivered_at datetime(3) NULL,
        answer varchar(40) NULL, created_at datetime(3) NOT NULL, PRIMARY KEY (id),
        UNIQUE KEY once (house_id, happening_id), KEY due (house_id, next_try_at), KEY of_house (house_id, created_at),
        FOREIGN KEY (house_id) REFERENCES webhooks (house_id) ON DELETE CASCADE)`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE webhook_deliveries');
    await queries.query('DROP TABLE webhooks');
  }
}
