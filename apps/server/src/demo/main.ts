import { writeFile } from 'node:fs/promises';
import { readConfig } from '../platform/config.js';
import { openContext, stopServer } from '../server.js';
import { DemoLoader } from './load-demo.js';

const [platformUrl, postersFolder, filmPath, factsPath] = process.argv.slice(2);
if (!platformUrl || !postersFolder || !filmPath || !factsPath)
  throw new Error('Usage: demo-data PLATFORM_URL POSTERS FILM FACTS.json');

const config = readConfig(process.env);
const app = await openContext(config);
const facts = await new DemoLoader(app, platformUrl, postersFolder, filmPath).load();
await writeFile(factsPath, JSON.stringify(facts), { mode: 0o600 });
await stopServer(app);
