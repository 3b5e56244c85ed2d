import { type Result, refuse, succeed } from '../result.js';

/**
 * A playback grant: signed, expiring, the same for everybody of its class, so that caches can serve them all.
 * Text form: `v1.class.fromBase36.expiryBase36.keyId.signature`, times in whole seconds, the signature an
 * HMAC-SHA256 (RFC 2104) in base64url over what stands before it and the thing it opens.
 */
export const GRANT_CLASSES = ['public', 'guarded', 'desk', 'source'] as const;
export type GrantClass = (typeof GRANT_CLASSES)[number];

export interface Grant {
  readonly class: GrantClass;
  /** A node that has been told a later `validFrom` refuses the grant. */
  readonly validFromMs: number;
  readonly expiresAtMs: number;
  readonly keyId: string;
}

/** `sign` is HMAC-SHA256 in base64url under the key named; `undefined` when there is no such key. */
export type Signer = (keyId: string, text: string) => string | undefined;

export type GrantRefusal = { readonly code: 'malformed' | 'forged' | 'expired' | 'withdrawn' };

const SHAPE =
  /^v1\.(public|guarded|desk|source)\.([0-9a-z]{1,9})\.([0-9a-z]{1,9})\.([A-Za-z0-9_-]{1,32})\.([A-Za-z0-9_-]{43})$/;

const signedText = (subjectId: string, head: string): string => `${subjectId} ${head}`;

/** @param subjectId - the programme, or the source, that the grant opens. */
export function formatGrant(subjectId: string, grant: Grant, sign: Signer): string {
  const base36 = (ms: number): string => Math.floor(ms / 1000).toString(36);
  const head = `v1.${grant.class}.${base36(grant.validFromMs)}.${base36(grant.expiresAtMs)}.${grant.keyId}`;
  const signature = sign(grant.keyId, signedText(subjectId, head));
  if (signature === undefined) throw new Error(`No signing key ${grant.keyId}`);
  return `${head}.${signature}`;
}

/**
 * Checks a grant without asking anybody.
 * @param validFromMs - what the server last said for this subject and class; earlier grants are withdrawn.
 */
export function checkGrant(
  subjectId: string,
  text: string,
  sign: Signer,
  nowMs: number,
  validFromMs: (grantClass: GrantClass) => number,
): Result<Grant, GrantRefusal> {
  const match = SHAPE.exec(text);
  if (!match) return refuse({ code: 'malformed' });
  const [, grantClass, from, expiry, keyId, signature] = match as unknown as string[];
  const head = text.slice(0, text.lastIndexOf('.'));
  const expected = sign(keyId!, signedText(subjectId, head));
  if (expected === undefined || !sameText(expected, signature!)) return refuse({ code: 'forged' });
  const grant: Grant = {
    class: grantClass as GrantClass,
    validFromMs: parseInt(from!, 36) * 1000,
    expiresAtMs: parseInt(expiry!, 36) * 1000,
    keyId: keyId!,
  };
  if (nowMs >= grant.expiresAtMs) return refuse({ code: 'expired' });
  if (grant.validFromMs < Math.floor(validFromMs(grant.class) / 1000) * 1000)
    return refuse({ code: 'withdrawn' });
  return succeed(grant);
}

/** Compares without telling by its time where two texts part. */
function sameText(a: string, b: string): boolean {
  let difference = a.length ^ b.length;
  for (let index = 0; index < a.length; index += 1) difference |= a.charCodeAt(index) ^ b.charCodeAt(index);
  return difference === 0;
}

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;

/** A live grant lasts until stop + overrun + 24 h, rounded up to the hour. */
export const liveGrantExpiryMs = (hardStopAtMs: number): number =>
  Math.ceil((hardStopAtMs + DAY_MS) / HOUR_MS) * HOUR_MS;

/** A replay grant lasts until the end of the next UTC day. */
export const replayGrantExpiryMs = (nowMs: number): number => (Math.floor(nowMs / DAY_MS) + 2) * DAY_MS;
