import { createHash, randomBytes } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';

/** Where everything of one installation is, and on which ports. */
export interface Settings {
  readonly bind: string;
  readonly port: number;
  readonly mediaPort: number;
  readonly rtmpPort: number;
  /** The first of twenty, over UDP. */
  readonly srtPort: number;
  readonly standinsPort: number;
  readonly dataFolder: string;
}

const portOf = (env: NodeJS.ProcessEnv, name: string, otherwise: number): number => {
  const port = Number(env[name] ?? otherwise);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Error(`${name} has to be a port, 1 to 65535; it is ${env[name]}.`);
  return port;
};

/** @throws Error naming the setting that is wrong. */
export function readSettings(env: NodeJS.ProcessEnv): Settings {
  return {
    bind: env.HELIPHON_BIND ?? '127.0.0.1',
    port: portOf(env, 'HELIPHON_PORT', 4600),
    mediaPort: portOf(env, 'HELIPHON_MEDIA_PORT', 4610),
    rtmpPort: portOf(env, 'HELIPHON_RTMP_PORT', 1935),
    srtPort: portOf(env, 'HELIPHON_SRT_PORT', 4640),
    standinsPort: portOf(env, 'HELIPHON_STANDINS_PORT', 4630),
    dataFolder: resolve(env.HELIPHON_DATA ?? '.data'),
  };
}

interface NodeIdentity {
  readonly nodeId: string;
  readonly secret: string;
}

/** The built-in media node's name and secret, made once. */
export async function nodeIdentity(dataFolder: string): Promise<NodeIdentity> {
  const path = join(dataFolder, 'node.json');
  const known = await readFile(path, 'utf8').catch(() => null);
  if (known) return JSON.parse(known) as NodeIdentity;
  const identity = { nodeId: 'built-in', secret: randomBytes(32).toString('hex') };
  await mkdir(dataFolder, { recursive: true });
  await writeFile(path, JSON.stringify(identity), { mode: 0o600 });
  return identity;
}

/** What the processes get to know; each reads its own part. */
export function childEnvironment(
  settings: Settings,
  databaseUrl: string,
  node: NodeIdentity,
): NodeJS.ProcessEnv {
  const secretSha256Hex = createHash('sha256').update(node.secret).digest('hex');
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
    HELIPHON_NODES: `${node.nodeId}:${secretSha256Hex}`,
    HELIPHON_NODE_ID: node.nodeId,
    HELIPHON_NODE_SECRET: node.secret,
    HELIPHON_SERVER_URL: `http://${settings.bind}:${settings.port}`,
    HELIPHON_CONSOLE_URL: `http://${settings.bind}:${settings.port}`,
    HELIPHON_FILM: join(settings.dataFolder, 'cache', 'film.flv'),
  };
}
