import { makeDataSource } from './data-source.js';

export interface SchemaCheck {
  readonly isEmpty: boolean;
  readonly pending: readonly string[];
  readonly unknown: readonly string[];
}

/** Looks at a database before anything is changed in it: which steps it lacks, and which of its steps nobody here knows. */
export async function checkSchema(databaseUrl: string): Promise<SchemaCheck> {
  const dataSource = await makeDataSource(databaseUrl).initialize();
  try {
    const known = dataSource.migrations.map(({ name, constructor }) => name ?? constructor.name);
    const tables = await dataSource.query<object[]>("SHOW TABLES LIKE 'migrations'");
    const done =
      tables.length === 0
        ? []
        : (await dataSource.query<{ name: string }[]>('SELECT name FROM migrations')).map(({ name }) => name);
    return {
      isEmpty: done.length === 0,
      pending: known.filter((name) => !done.includes(name)),
      unknown: done.filter((name) => !known.includes(name)),
    };
  } finally {
    await dataSource.destroy();
  }
}
