import { createHash, randomBytes } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';

/** The ports of a media node. */
export interface NodePorts {
  readonly mediaPort: number;
  readonly rtmpPort: number;
  /** The first of twenty, over UDP. */
  readonly srtPort: number;
}

/** Where everything of one installation is, and on which ports. */
export interface Settings extends NodePorts {
  readonly bind: string;
  readonly port: number;
  /** Of the second media node, which a demo has. */
  readonly second: NodePorts;
  readonly standinsPort: number;
  readonly dataFolder: string;
}

const portOf = (env: NodeJS.ProcessEnv, name: string, otherwise: number): number => {
  const port = Number(env[name] ?? otherwise);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Error(`${name} must be a port from 1 to 65535; it is ${env[name]}.`);
  return port;
};

/** @throws Error naming the setting that is wrong. */
export function readSettings(env: NodeJS.ProcessEnv): Settings {
  const mediaPort = portOf(env, 'HELIPHON_MEDIA_PORT', 4610);
  const rtmpPort = portOf(env, 'HELIPHON_RTMP_PORT', 1935);
  const srtPort = portOf(env, 'HELIPHON_SRT_PORT', 4640);
  return {
    bind: env.HELIPHON_BIND ?? '127.0.0.1',
    port: portOf(env, 'HELIPHON_PORT', 4600),
    mediaPort,
    rtmpPort,
    srtPort,
    second: {
      mediaPort: portOf(env, 'HELIPHON_SECOND_MEDIA_PORT', mediaPort + 1),
      rtmpPort: portOf(env, 'HELIPHON_SECOND_RTMP_PORT', rtmpPort + 1),
      srtPort: portOf(env, 'HELIPHON_SECOND_SRT_PORT', srtPort + SRT_LIMITS.slots),
    },
    standinsPort: portOf(env, 'HELIPHON_STANDINS_PORT', 4630),
    dataFolder: resolve(env.HELIPHON_DATA ?? '.data'),
  };
}

export interface NodeIdentity {
  readonly nodeId: string;
  readonly secret: string;
}

/** A media node's name and secret, made once in its own folder. */
export async function nodeIdentity(dataFolder: string, nodeId: string): Promise<NodeIdentity> {
  const path = join(dataFolder, 'node.json');
  const known = await readFile(path, 'utf8').catch(() => null);
  if (known) return JSON.parse(known) as NodeIdentity;
  const identity = { nodeId, secret: randomBytes(32).toString('hex') };
  await mkdir(dataFolder, { recursive: true });
  await writeFile(path, JSON.stringify(identity), { mode: 0o600 });
  return identity;
}

/**
 * What the processes get to know; each reads its own part.
 * @param nodes - the one beside the server first: it is its environment too
 */
export function childEnvironment(
  settings: Settings,
  databaseUrl: string,
  nodes: readonly [NodeIdentity, ...NodeIdentity[]],
): NodeJS.ProcessEnv {
  const [node] = nodes;
  return {
    ...process.env,
    HELIPHON_BIND: settings.bind,
    HELIPHON_PORT: String(settings.port),
    HELIPHON_MEDIA_PORT: String(settings.mediaPort),
    HELIPHON_RTMP_PORT: String(settings.rtmpPort),
    HELIPHON_SRT_PORT: String(settings.srtPort),
    HELIPHON_STANDINS_PORT: String(settings.standinsPort),
    HELIPHON_DATA: settings.dataFolder,
    HELIPHON_DATABASE_URL: databaseUrl,
    HELIPHON_WEB_FOLDER: resolve('dist/web'),
    HELIPHON_NODES: nodes.map(({ nodeId, secret }) => `${nodeId}:${sha256Hex(secret)}`).join(','),
    HELIPHON_NODE_ID: node.nodeId,
    HELIPHON_NODE_SECRET: node.secret,
    HELIPHON_SERVER_URL: `http://${settings.bind}:${settings.port}`,
    HELIPHON_CONSOLE_URL: `http://${settings.bind}:${settings.port}`,
    HELIPHON_FILM: join(settings.dataFolder, 'cache', 'film.flv'),
  };
}

/** The same for a second media node on this machine: its own name, folder and ports, and the rest alike. */
export const secondEnvironment = (
  env: NodeJS.ProcessEnv,
  { mediaPort, rtmpPort, srtPort }: NodePorts,
  { nodeId, secret }: NodeIdentity,
  dataFolder: string,
): NodeJS.ProcessEnv => ({
  ...env,
  HELIPHON_DATA: dataFolder,
  HELIPHON_MEDIA_PORT: String(mediaPort),
  HELIPHON_RTMP_PORT: String(rtmpPort),
  HELIPHON_SRT_PORT: String(srtPort),
  HELIPHON_NODE_ID: nodeId,
  HELIPHON_NODE_SECRET: secret,
  // Those of the first, where they are set.
  HELIPHON_MEDIA_URL: '',
  HELIPHON_RTMP_URL: '',
  HELIPHON_RTMPS_URL: '',
});

const sha256Hex = (text: string): string => createHash('sha256').update(text).digest('hex');
