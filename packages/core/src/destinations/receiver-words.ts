import type { DestinationReason } from './destination-state.js';
import { parseRtmpAddress } from './rtmp-address.js';

const MAX_LENGTH = 200;

/**
 * Reads the last words of the process that sends to a place (ffmpeg's error log): why it ended, and what the receiver
 * itself said. The stream name and the password of `address` are taken out wherever they stand.
 */
export function readReceiverWords(
  words: string,
  address: string,
): { readonly reason: DestinationReason; readonly said: string | null } {
  const said = /Server error: (.+)/.exec(words)?.[1]?.trim() ?? null;
  return { reason: reasonOf(words), said: said && withoutSecrets(said, address).slice(0, MAX_LENGTH) };
}

function reasonOf(words: string): DestinationReason {
  if (/certificate|handshake|TLS|verif/i.test(words)) return 'not-secure';
  if (/refused by|Server error|BadName|Publish|Unauthorized|authfailed|auth/i.test(words)) return 'refused';
  if (/Connection refused|resolve|unreachable|No route|timed out/i.test(words)) return 'unreachable';
  return 'broke-off';
}

function withoutSecrets(text: string, address: string): string {
  const parsed = parseRtmpAddress(address);
  const secrets = parsed.ok ? [parsed.value.streamName, parsed.value.login?.password] : [address];
  return secrets.reduce<string>(
    (shown, secret) => (secret ? shown.replaceAll(secret, '…') : shown),
    text.replace(/[\x00-\x1f\x7f]/g, ' '),
  );
}
