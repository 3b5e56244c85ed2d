import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { KeptChild } from './child.js';
import { runOnData } from './on-data.js';
import { lockFolder } from './folder-lock.js';
import { requireFree, requireFreeUdp } from './ports.js';
import { makePrivate } from './private-folders.js';
import { readSettings } from './settings.js';

const SCRIPT = 'dist/server/manage-nodes.js';

/** `./heliphon add-node NAME`: takes a media node in that stands elsewhere, and prints what to set there. */
export async function addNode([name]: readonly string[]): Promise<void> {
  if (!name) throw new Error('Give it a name: ./heliphon add-node hill-house');
  console.log(await runOnData(SCRIPT, 'add', name));
}

/** `./heliphon forget-node NAME [OTHER]`: removes one; OTHER takes its recordings from now on. */
export async function forgetNode([name, other]: readonly string[]): Promise<void> {
  if (!name) throw new Error('Say which one: ./heliphon forget-node hill-house');
  console.log(await runOnData(SCRIPT, 'forget', name, ...(other ? [other] : [])));
}

const WANTED = ['HELIPHON_SERVER_URL', 'HELIPHON_NODE_ID', 'HELIPHON_NODE_SECRET'] as const;

/** `./heliphon node`: a media node alone, for a server elsewhere; until Ctrl-C. */
export async function node(): Promise<void> {
  const missing = WANTED.filter((name) => !process.env[name]);
  if (missing.length > 0)
    throw new Error(`Set ${missing.join(', ')}. ./heliphon add-nodeon the server prints the values.`);
  const { bind, mediaPort, rtmpPort, srtPort, dataFolder } = readSettings(process.env);
  await mkdir(dataFolder, { recursive: true });
  await lockFolder(dataFolder);
  await requireFree({ HELIPHON_MEDIA_PORT: mediaPort, HELIPHON_RTMP_PORT: rtmpPort }, bind);
  await requireFreeUdp('HELIPHON_SRT_PORT', srtPort, bind);
  await makePrivate(dataFolder);
  const env = {
    ...process.env,
    HELIPHON_BIND: bind,
    HELIPHON_MEDIA_PORT: String(mediaPort),
    HELIPHON_RTMP_PORT: String(rtmpPort),
    HELIPHON_SRT_PORT: String(srtPort),
    HELIPHON_DATA: dataFolder,
  };
  const logFile = join(dataFolder, 'logs', 'media-node.log');
  const settings = { name: 'media node', script: 'dist/media/main.js', env, logFile, niceness: 0 };
  const child = new KeptChild(settings, (sentence) => console.log(sentence));
  const stop = (): void => void child.stop().then(() => process.exit(0));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, stop);
  child.start();
  console.log(`The media node ${process.env.HELIPHON_NODE_ID} runs, for ${process.env.HELIPHON_SERVER_URL}.`);
  console.log(`Its log is ${logFile}.`);
}
