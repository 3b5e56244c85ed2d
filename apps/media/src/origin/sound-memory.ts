import { soundInitOf, soundOf } from '@heliphon/core/packaging/sound-only';

/** Sound is taken out of a part once for all who want it alone, and forgotten with the part. */
function remembering<T extends Uint8Array | null>(take: (bytes: Uint8Array) => T): (bytes: Uint8Array) => T {
  const known = new WeakMap<Uint8Array, { taken: T }>();
  return (bytes) => {
    const found = known.get(bytes) ?? { taken: take(bytes) };
    known.set(bytes, found);
    return found.taken;
  };
}

export const soundMedia = remembering(soundOf);
export const soundInit = remembering(soundInitOf);
