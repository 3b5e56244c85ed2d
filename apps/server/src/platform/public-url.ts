import { hostname, networkInterfaces } from 'node:os';
import type { Request } from 'express';
import type { ServerConfig } from './config.js';
import { ProblemError } from './problems.js';

/** Where people reach this installation, for letters that no request asked for. */
export const ownUrl = ({ publicUrl, bind, port }: ServerConfig): string =>
  (publicUrl ?? `http://${bind}:${port}`).replace(/\/$/, '');

/** Where people reach this installation: as it is set, else as this request reached it. For what goes back to who asked. */
export function publicUrlOf(config: ServerConfig, request: Request): string {
  return (config.publicUrl ?? `${request.protocol}://${request.headers.host ?? ''}`).replace(/\/$/, '');
}

/**
 * As `publicUrlOf`, for letters: anyone who asks must not choose where the links in somebody's letter lead. Without a
 * setting only this machine's own names and addresses count.
 * @throws ProblemError 409 where the request came by another name
 */
export function letterUrlOf(config: ServerConfig, request: Request): string {
  if (config.publicUrl === null && !isOwnHost(config, request))
    throw new ProblemError(409, 'public-address-unknown', { host: request.headers.host ?? '' });
  return publicUrlOf(config, request);
}

function isOwnHost({ bind, port }: ServerConfig, { headers, socket }: Request): boolean {
  const url = `http://${headers.host ?? ''}`;
  if (!URL.canParse(url)) return false;
  const asked = new URL(url);
  const addresses = Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).map(({ address, family }) => (family === 'IPv6' ? `[${address}]` : address)),
  );
  const names = ['localhost', hostname().toLowerCase(), bind, ...addresses];
  // Port 0 is whichever was free.
  return names.includes(asked.hostname) && Number(asked.port || 80) === (port || socket.localPort);
}
