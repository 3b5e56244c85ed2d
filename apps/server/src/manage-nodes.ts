import 'reflect-metadata';
import { randomBytes } from 'node:crypto';
import Joi from 'joi';
import { In } from 'typeorm';
import { NODE_ID } from '@heliphon/contracts/nodes';
import { EventEntity } from './tables/event.entity.js';
import { LegEntity } from './tables/leg.entity.js';
import { newNode } from './nodes/media-nodes.js';
import { Clock } from './platform/clock.js';
import { readConfig } from './platform/config.js';
import { Database } from './platform/database.js';
import { MediaNodeEntity } from './platform/entities.js';
import { sha256Hex } from './platform/ids.js';
import { RecordingEntity, RemovalEntity } from './tables/recording.entity.js';
import { openContext, stopServer } from './server.js';

const nodeId = Joi.string().pattern(NODE_ID, 'a name of letters, figures and dashes');
const [command, name, heir = null] = Joi.attempt(
  process.argv.slice(2),
  Joi.array<[string, string, string?]>().ordered(
    Joi.valid('add', 'forget').required(),
    nodeId.required(),
    nodeId,
  ),
);

const config = readConfig(process.env);
const app = await openContext(config);
const manager = app.get(Database).installation;
try {
  process.stdout.write(`${command === 'add' ? await add() : await forget()}\n`);
} finally {
  await stopServer(app);
}

/** The secret is shown this once; only its hash is kept. */
async function add(): Promise<string> {
  if (await manager.findOneBy(MediaNodeEntity, { id: name }))
    throw new Error(`There is a media node ${name} already. Give this one another name.`);
  const secret = randomBytes(32).toString('hex');
  await manager.insert(MediaNodeEntity, newNode(name, sha256Hex(secret), app.get(Clock).nowMs()));
  const serverUrl = config.publicUrl ?? `http://${config.bind}:${config.port}`;
  return [
    `The media node ${name} is known. On its machine set these, then run ./heliphon node:`,
    '',
    `  HELIPHON_SERVER_URL=${serverUrl}`,
    `  HELIPHON_NODE_ID=${name}`,
    `  HELIPHON_NODE_SECRET=${secret}`,
    '  HELIPHON_NODE_PLACE=        where it stands, in words',
    '  HELIPHON_MEDIA_URL=         where players reach it, https://…',
    '  HELIPHON_RTMP_URL=          where encoders reach it, rtmp://…',
    '',
    'The secret is shown this once.',
  ].join('\n');
}

/** What ran there has to be over, and what was kept there to have another owner. */
async function forget(): Promise<string> {
  if (!(await manager.findOneBy(MediaNodeEntity, { id: name })))
    throw new Error(`There is no media node ${name}.`);
  if (config.nodes.some((own) => own.nodeId === name))
    throw new Error(`${name} stands beside the server and belongs to it.`);
  if (heir !== null && !(await manager.findOneBy(MediaNodeEntity, { id: heir })))
    throw new Error(`There is no media node ${heir}.`);
  const running = await manager.findOneBy(EventEntity, { nodeId: name, state: In(['doors', 'air']) });
  if (running) throw new Error(`“${running.title}” runs there. Stop the node first: it goes on at another.`);
  const kept = await manager
    .createQueryBuilder(RecordingEntity, 'recording')
    .innerJoin(EventEntity, 'event', 'event.id = recording.event_id AND event.node_id = :name', { name })
    .getCount();
  if (kept > 0 && heir === null)
    throw new Error(
      `${kept === 1 ? 'A recording lies' : `${kept} recordings lie`} there. Copy its folder media/ into that of another node, then: ./heliphon forget-node ${name} OTHER`,
    );
  await manager.transaction(async (inside) => {
    // Not edits of events and sources: their versions stay.
    await inside.query('UPDATE events SET node_id = ? WHERE node_id = ?', [heir, name]);
    await inside.query('UPDATE sources SET node_id = NULL WHERE node_id = ?', [name]);
    await inside.delete(LegEntity, { nodeId: name });
    await inside.delete(RemovalEntity, { nodeId: name });
    await inside.delete(MediaNodeEntity, { id: name });
  });
  return `The media node ${name} is forgotten.`;
}
