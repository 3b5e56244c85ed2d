/**
 * A random UUID (RFC 9562, version 4) from 16 random bytes. Browsers offer `crypto.randomUUID` only to pages served over
 * TLS; `crypto.getRandomValues` they offer to all.
 */
export function uuidFromBytes(random: Uint8Array): string {
  const bytes = Array.from(random.subarray(0, 16));
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  const hex = bytes.map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-');
}
