import { randomInt } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { createServer } from 'node:net';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';

/** Below the ports that the system gives to connections going out, which would take one again before it is used. */
const CHOSEN_FROM = { first: 10_000, last: 32_000 } as const;
const chosen = new Set<number>();

/** A port that nobody has just now, for TCP and UDP; never the same one twice. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = randomInt(CHOSEN_FROM.first, CHOSEN_FROM.last + 1);
    if (chosen.has(port) || !(await isFree(port, '127.0.0.1')) || !(await isFreeUdp(port, '127.0.0.1')))
      continue;
    chosen.add(port);
    return port;
  }
}

/** @param wanted - ports by the settings that choose them. @throws Error naming the first that is taken */
export async function requireFree(wanted: Readonly<Record<string, number>>, host: string): Promise<void> {
  for (const [setting, port] of Object.entries(wanted)) {
    if (await isFree(port, host)) continue;
    throw new Error(`Port ${port} is taken. End what uses it, or choose another with ${setting}.`);
  }
}

/** @param first - of the UDP ports that SRT may use. @throws Error naming the first that is taken */
export async function requireFreeUdp(setting: string, first: number, host: string): Promise<void> {
  for (let port = first; port < first + SRT_LIMITS.slots; port += 1)
    if (!(await isFreeUdp(port, host)))
      throw new Error(
        `UDP port ${port} is taken; SRT needs ${first} to ${first + SRT_LIMITS.slots - 1}. End what uses it, or choose another first port with ${setting}.`,
      );
}

function isFreeUdp(port: number, host: string): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = createSocket(host.includes(':') ? 'udp6' : 'udp4');
    socket.once('error', () => resolve(false));
    socket.bind(port, host, () => socket.close(() => resolve(true)));
  });
}

/** True when nobody listens there. */
export function isFree(port: number, host: string): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, host, () => server.close(() => resolve(true)));
  });
}
