import 'reflect-metadata';
import { readConfig } from './platform/config.js';
import { checkSchema } from './schema-check.js';

process.stdout.write(JSON.stringify(await checkSchema(readConfig(process.env).databaseUrl)));
