import type { Request } from 'express';
import type { ServerConfig } from '../platform/config.js';

/** Where people reach this installation, for letters that no request asked for. */
export const ownUrl = ({ publicUrl, bind, port }: ServerConfig): string =>
  (publicUrl ?? `http://${bind}:${port}`).replace(/\/$/, '');

/** Where people reach this installation: as it is set, else as this request reached it. */
export function publicUrlOf(config: ServerConfig, request: Request): string {
  return (config.publicUrl ?? `${request.protocol}://${request.headers.host ?? ''}`).replace(/\/$/, '');
}
