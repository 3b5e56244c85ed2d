import type { IncomingMessage } from 'node:http';

/** Who asks: behind a web server on this machine, its word counts. */
export function addressOf({ socket, headers }: IncomingMessage): string {
  const address = socket.remoteAddress ?? 'unknown';
  const forwarded = String(headers['x-forwarded-for'] ?? '')
    .split(',')
    .at(-1)!
    .trim();
  return /^(::ffff:)?127\.|^::1$/.test(address) && forwarded ? forwarded : address;
}
