import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { DataSource } from 'typeorm';
import { checkSchema } from '../src/schema-check.js';
import { ServerDriver } from './driver.js';

let server: ServerDriver;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());

test('entities and the migrated schema are the same, column by column', async () => {
  const source = server.app.get(DataSource);
  const columns: { t: string; c: string; n: string }[] = await source.query(
    `SELECT table_name t, column_name c, is_nullable n FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name <> 'migrations'`,
  );
  const inDatabase = columns.map(({ t, c, n }) => `${t}.${c}${n === 'YES' ? '?' : ''}`).sort();
  const optionalText = new Set(['happenings.before', 'happenings.after']); // JSON, where null is a value
  const inCode = source.entityMetadatas.flatMap((entity) =>
    entity.columns.map((column) => {
      const name = `${entity.tableName}.${column.databaseName}`;
      return `${name}${column.isNullable || optionalText.has(name) ? '?' : ''}`;
    }),
  );
  expect(inCode.sort()).toEqual(inDatabase);
});

test('before an upgrade the database is only looked at: what it lacks, and what nobody here knows', async () => {
  expect(await checkSchema(server.databaseUrl)).toEqual({ isEmpty: false, pending: [], unknown: [] });
});
