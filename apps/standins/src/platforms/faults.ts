import type { RequestHandler } from 'express';
import type { Admission } from '../platform/stream-receiver.js';

/** What may be wrong with a platform as a whole. */
export const PLATFORM_FAULTS = [
  'none',
  'outage',
  'slow',
  'rate-limit',
  'refuse-key',
  'never-reads',
  'closes-often',
] as const;
export type PlatformFault = (typeof PLATFORM_FAULTS)[number];

const SLOW_MS = 15_000;
const RETRY_AFTER_SECONDS = 20;
const CLOSES_AFTER_MS = 20_000;

/** What answers where the interface is out of order; everything else goes on to `next`. */
export const faultyInterface =
  (fault: () => PlatformFault): RequestHandler =>
  (_request, response, next) => {
    switch (fault()) {
      case 'outage':
        response.status(500).type('text').send('Something went wrong on our side.');
        return;
      case 'rate-limit':
        response.status(429).set('Retry-After', String(RETRY_AFTER_SECONDS)).json({ error: 'slow-down' });
        return;
      case 'slow':
        setTimeout(next, SLOW_MS).unref();
        return;
      default:
        next();
    }
  };

/** How a stream with a good key is treated. */
export function admissionUnder(fault: PlatformFault): Admission {
  if (fault === 'refuse-key') return { isTaken: false, words: 'This key is not valid any more' };
  return {
    isTaken: true,
    reads: fault !== 'never-reads',
    closesAfterMs: fault === 'closes-often' ? CLOSES_AFTER_MS : null,
  };
}
