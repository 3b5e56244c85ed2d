import { createServer, type AddressInfo } from 'node:net';

/** A port that nobody has just now. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => resolve(port));
    });
  });
}

/** @param wanted - ports by the settings that choose them. @throws Error naming the first that is taken */
export async function requireFree(wanted: Readonly<Record<string, number>>, host: string): Promise<void> {
  for (const [setting, port] of Object.entries(wanted)) {
    if (await isFree(port, host)) continue;
    throw new Error(`Port ${port} is taken. End what uses it, or choose another with ${setting}.`);
  }
}

/** True when nobody listens there. */
export function isFree(port: number, host: string): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, host, () => server.close(() => resolve(true)));
  });
}
