import { writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { Express } from 'express';
import { generate } from 'selfsigned';
import type { Client } from './consents.js';
import { skerry, SKERRY_HABITS, SKERRY_OUTLETS, SKERRY_PEOPLE } from './skerry/skerry.js';
import { windlass, WINDLASS_HABITS, WINDLASS_OUTLETS, WINDLASS_PEOPLE } from './windlass/windlass.js';
import { PlatformWorld } from './world.js';

/** Another site than ours, which is addressed as 127.0.0.1. */
const HOST = 'localhost';
const IDLE_MS = 75_000;

interface Options {
  readonly ports: Readonly<Record<'skerry' | 'skerryIngest' | 'windlass' | 'windlassIngest', number>>;
  /** Each sends people back to its own address under this one, so that no answer of one is taken for another's. */
  readonly client: Omit<Client, 'redirectAddress'> & { readonly redirectBase: string };
  /** Where the certificate is put by which Windlass's receiver is known. */
  readonly certificateFile: string;
  readonly now?: () => number;
}

export interface Platforms {
  readonly skerry: PlatformWorld;
  readonly windlass: PlatformWorld;
  close(): Promise<void>;
}

/** Opens both platforms at their addresses. */
export async function openPlatforms({
  ports,
  client,
  certificateFile,
  now = Date.now,
}: Options): Promise<Platforms> {
  const pems = await generate([{ name: 'commonName', value: HOST }], {
    keySize: 2048,
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 2, value: HOST }] }],
  });
  await writeFile(certificateFile, pems.cert);
  const clientOf = (platform: string): Client => ({
    ...client,
    redirectAddress: `${client.redirectBase}/${platform}`,
  });
  const skerryWorld = new PlatformWorld({
    client: clientOf('skerry'),
    now,
    people: SKERRY_PEOPLE,
    outlets: SKERRY_OUTLETS.map((outlet) => ({ ...outlet })),
    habits: SKERRY_HABITS,
    certificate: null,
  });
  const windlassWorld = new PlatformWorld({
    client: clientOf('windlass'),
    now,
    people: WINDLASS_PEOPLE,
    outlets: WINDLASS_OUTLETS.map((outlet) => ({ ...outlet })),
    habits: WINDLASS_HABITS,
    certificate: { cert: pems.cert, key: pems.private },
  });
  const sites = await Promise.all([
    open(
      skerry(skerryWorld, {
        site: `http://${HOST}:${ports.skerry}`,
        ingest: `rtmp://${HOST}:${ports.skerryIngest}/live`,
      }),
      ports.skerry,
    ),
    open(
      windlass(windlassWorld, {
        site: `http://${HOST}:${ports.windlass}`,
        ingest: `rtmps://${HOST}:${ports.windlassIngest}/in`,
      }),
      ports.windlass,
    ),
  ]);
  await skerryWorld.receiver.listen(ports.skerryIngest, HOST);
  await windlassWorld.receiver.listen(ports.windlassIngest, HOST);
  return {
    skerry: skerryWorld,
    windlass: windlassWorld,
    close: async () => {
      await Promise.all(sites.map(shut));
      await Promise.all([skerryWorld.close(), windlassWorld.close()]);
    },
  };
}

async function open(app: Express, port: number): Promise<Server> {
  const server = createServer(app);
  server.keepAliveTimeout = IDLE_MS;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, HOST, resolve);
  });
  return server;
}

function shut(server: Server): Promise<void> {
  server.closeAllConnections();
  return new Promise((resolve) => server.close(() => resolve()));
}
