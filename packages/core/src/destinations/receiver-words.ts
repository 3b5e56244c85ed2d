import type { DestinationReason } from './destination-state.js';
import type { RtmpAddress } from './rtmp-address.js';

const MAX_LENGTH = 200;

/** What a receiver itself said, without the stream name and the password of its address, wherever they stand. */
export function receiverWords(said: string, { streamName, login }: RtmpAddress): string {
  return [streamName, login?.password]
    .reduce<string>(
      (shown, secret) => (secret ? shown.replaceAll(secret, '…') : shown),
      said.replace(/[\x00-\x1f\x7f]/g, ' '),
    )
    .trim()
    .slice(0, MAX_LENGTH);
}

const UNREACHABLE = new Set([
  'ECONNREFUSED',
  'ENOTFOUND',
  'EAI_AGAIN',
  'EHOSTUNREACH',
  'ENETUNREACH',
  'EADDRNOTAVAIL',
  'ETIMEDOUT',
]);

/** Why a connection failed, by the code that the operating system or TLS gave. */
export function reasonOfCode(code: string): DestinationReason {
  if (UNREACHABLE.has(code)) return 'unreachable';
  return /CERT|TLS|SSL|SELF_SIGNED|UNABLE_TO/.test(code) ? 'not-secure' : 'broke-off';
}
