/**
 * How an encoder box comes by a source without a key being typed: the device authorization grant of RFC 8628. The box
 * shows a short code, asks again and again whether somebody has entered it, and gets a token once they have.
 */

/** Letters that are not mistaken for one another, and make no words (RFC 8628, 6.1). */
export const CODE_LETTERS = 'BCDFGHJKLMNPQRSTVWXZ';
const CODE_LENGTH = 8;

export const PAIRING = {
  /** A code can be entered for so long. */
  lifeMs: 10 * 60_000,
  /** A box asks at most so often; one that asks more often is slowed down by as much each time (RFC 8628, 3.5). */
  intervalMs: 5000,
  slowDownMs: 5000,
  /** A clock of a box runs a little fast. */
  earlyMs: 500,
} as const;

/** `WDJB-MJHT`. @param randomBytes - at least 64, from a source fit for secrets */
export function makeUserCode(randomBytes: Uint8Array): string {
  // Bytes past the last whole multiple would make the first letters likelier.
  const fair = Array.from(randomBytes).filter((byte) => byte < 256 - (256 % CODE_LETTERS.length));
  const letters = fair.slice(0, CODE_LENGTH).map((byte) => CODE_LETTERS[byte % CODE_LETTERS.length]);
  if (letters.length < CODE_LENGTH) throw new Error('Too few random bytes');
  return `${letters.slice(0, 4).join('')}-${letters.slice(4).join('')}`;
}

/** A code however somebody typed it: small letters, spaces, without its stroke. `null` where it cannot be one. */
export function readUserCode(typed: string): string | null {
  const letters = typed.toUpperCase().replace(/[\s-]/g, '');
  const isCode =
    letters.length === CODE_LENGTH && [...letters].every((letter) => CODE_LETTERS.includes(letter));
  return isCode ? `${letters.slice(0, 4)}-${letters.slice(4)}` : null;
}

/** Where a pairing stands. */
export interface Pairing {
  readonly state: 'waiting' | 'granted' | 'denied' | 'taken';
  readonly expiresAtMs: number;
  readonly lastAskedAtMs: number | null;
  readonly intervalMs: number;
}

/** What a box is answered, in the words of RFC 8628, 3.5 and RFC 6749, 5.2. */
export type PairingAnswer =
  'granted' | 'authorization_pending' | 'slow_down' | 'expired_token' | 'access_denied' | 'invalid_grant';

/** Answers a box that asks, and remembers that it did. A token is given out once. */
export function askPairing(pairing: Pairing, nowMs: number): { answer: PairingAnswer; pairing: Pairing } {
  if (pairing.state === 'taken') return { answer: 'invalid_grant', pairing };
  if (pairing.state === 'denied') return { answer: 'access_denied', pairing };
  if (nowMs >= pairing.expiresAtMs) return { answer: 'expired_token', pairing };
  const { lastAskedAtMs, intervalMs } = pairing;
  const isHasty = lastAskedAtMs !== null && nowMs - lastAskedAtMs < intervalMs - PAIRING.earlyMs;
  if (isHasty) {
    const slower = { ...pairing, lastAskedAtMs: nowMs, intervalMs: intervalMs + PAIRING.slowDownMs };
    return { answer: 'slow_down', pairing: slower };
  }
  const asked = { ...pairing, lastAskedAtMs: nowMs };
  return pairing.state === 'granted'
    ? { answer: 'granted', pairing: { ...asked, state: 'taken' } }
    : { answer: 'authorization_pending', pairing: asked };
}

/** What a box says of itself now and then. */
export const BOX_INPUTS = ['picture-and-sound', 'picture', 'sound', 'nothing'] as const;
export type BoxInput = (typeof BOX_INPUTS)[number];

export interface BoxReport {
  /** `null` for one that hangs on the mains. */
  readonly batteryPercent: number | null;
  readonly input: BoxInput;
  readonly temperatureC: number | null;
  readonly isSending: boolean;
  /** The ingest point that it measured to be the nearest; `null` before it has. */
  readonly nearestNodeId: string | null;
}

/** A box that has said nothing for so long is away. */
export const BOX_AWAY_AFTER_MS = 20_000;
const BATTERY_LOW_PERCENT = 20;
const HOT_C = 70;

/** What is worth a look at a box, worst first. */
export function boxWorries(
  report: Omit<BoxReport, 'nearestNodeId'>,
): ('hot' | 'battery-low' | 'nothing-plugged-in')[] {
  return [
    ...(report.temperatureC !== null && report.temperatureC >= HOT_C ? (['hot'] as const) : []),
    ...(report.batteryPercent !== null && report.batteryPercent < BATTERY_LOW_PERCENT
      ? (['battery-low'] as const)
      : []),
    ...(report.input === 'nothing' ? (['nothing-plugged-in'] as const) : []),
  ];
}
