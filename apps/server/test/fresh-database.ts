import { randomUUID } from 'node:crypto';
import { type Connection, createConnection, type RowDataPacket } from 'mysql2/promise';
import { makeDataSource } from '../src/data-source.js';
import { sha256Hex } from '../src/platform/ids.js';

const LOCK = 'heliphon_test_template';
const LOCK_SECONDS = 120;

/**
 * A database of one's own with all tables. The first of a run migrates a template; all are made of the template's tables,
 * which takes a tenth of the time.
 * @returns its address
 */
export async function freshDatabase(): Promise<string> {
  const root = process.env.HELIPHON_TEST_DATABASE_URL;
  if (!root) throw new Error('Run these through ./heliphon test server, which brings a database.');
  const connection = await createConnection({ uri: root, multipleStatements: true });
  try {
    const template = await templateOf(connection, root);
    const name = `t_${process.env.JEST_WORKER_ID}_${randomUUID().slice(0, 8)}`;
    await connection.query(`CREATE DATABASE ${name}; USE ${name}`);
    await copyTables(connection, template);
    return addressOf(root, name);
  } finally {
    await connection.end();
  }
}

const addressOf = (root: string, database: string): string => root.replace(/\/[^/]*$/, `/${database}`);

/** Named after its migrations, so that a database server that stays has one for each state of the code. */
async function templateOf(connection: Connection, root: string): Promise<string> {
  const migrations = makeDataSource(root).options.migrations as { name: string }[];
  const template = `t_template_${sha256Hex(migrations.map(({ name }) => name).join()).slice(0, 12)}`;
  await connection.query('SELECT GET_LOCK(?, ?)', [LOCK, LOCK_SECONDS]);
  try {
    const [there] = await connection.query<RowDataPacket[]>('SHOW DATABASES LIKE ?', [template]);
    if (there.length === 0) await migrate(connection, root, template);
  } finally {
    await connection.query('SELECT RELEASE_LOCK(?)', [LOCK]);
  }
  return template;
}

async function migrate(connection: Connection, root: string, template: string): Promise<void> {
  await connection.query(`CREATE DATABASE ${template}`);
  const dataSource = await makeDataSource(addressOf(root, template)).initialize();
  try {
    await dataSource.runMigrations();
  } catch (error) {
    await connection.query(`DROP DATABASE ${template}`);
    throw error;
  } finally {
    await dataSource.destroy();
  }
}

/** Makes the template's tables in the database in use, and says which migrations they have had. */
async function copyTables(connection: Connection, template: string): Promise<void> {
  const [tables] = await connection.query<RowDataPacket[]>(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ?',
    [template],
  );
  const makings: string[] = [];
  for (const { name } of tables as { name: string }[]) {
    const [[row]] = await connection.query<RowDataPacket[]>(`SHOW CREATE TABLE ${template}.${name}`);
    makings.push((row as { 'Create Table': string })['Create Table']);
  }
  await connection.query(`SET FOREIGN_KEY_CHECKS = 0; ${makings.join('; ')}; SET FOREIGN_KEY_CHECKS = 1`);
  await connection.query(`INSERT INTO migrations SELECT * FROM ${template}.migrations`);
}
