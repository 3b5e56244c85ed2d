import { uuidFromBytes } from '@heliphon/core/random-id';

/** A random UUID, also on pages without TLS. */
export const randomId = (): string => uuidFromBytes(crypto.getRandomValues(new Uint8Array(16)));
