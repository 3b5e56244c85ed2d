import type { MigrationInterface, QueryRunner } from 'typeorm';
import { canonicalEmail } from '@heliphon/core/access/email-address';

/** Compared letter by letter: two spellings are two names. */
const EXACT = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL';
const AS_BEFORE = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci NOT NULL';
const NAMES = [
  ['people', 'email', 254],
  ['invitations', 'email', 254],
  ['addresses', 'slug', 100],
  ['sources', 'user', 40],
  ['media_nodes', 'id', 60],
] as const;

/** Names that are unique are compared exactly, and addresses of people stand in one canonical form. */
export class CanonicalNames1766000000000 implements MigrationInterface {
  name = 'CanonicalNames1766000000000';

  async up(queries: QueryRunner): Promise<void> {
    for (const [table, column, length] of NAMES)
      await queries.query(`ALTER TABLE ${table} MODIFY ${column} varchar(${length}) ${EXACT}`);
    for (const table of ['people', 'invitations']) {
      const rows = (await queries.query(`SELECT id, email FROM ${table}`)) as { id: string; email: string }[];
      for (const { id, email } of rows) {
        const canonical = canonicalEmail(email);
        // Where somebody else has that form already, this one stays as it is, for the owner to sort out.
        if (canonical && canonical !== email)
          await queries.query(`UPDATE IGNORE ${table} SET email = ? WHERE id = ?`, [canonical, id]);
      }
    }
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const [table, column, length] of NAMES)
      await queries.query(`ALTER TABLE ${table} MODIFY ${column} varchar(${length}) ${AS_BEFORE}`);
  }
}
