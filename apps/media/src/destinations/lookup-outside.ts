import { lookup, type LookupAddress, type LookupOptions } from 'node:dns';
import { isInnerAddress } from '@heliphon/core/net/inner-address';

/** The code of the error with which a name that means an inner address is refused. */
export const INNER_ADDRESS = 'INNER_ADDRESS';

type Found = (
  error: NodeJS.ErrnoException | null,
  address: string | LookupAddress[],
  family?: number,
) => void;

/** Resolves a name as usual, and refuses what lies within: also one that meant something else a moment ago. */
export function lookupOutside(host: string, options: LookupOptions, found: Found): void {
  lookup(host, { ...options, all: true }, (error, addresses) => {
    if (error) return found(error, []);
    if (addresses.some(({ address }) => isInnerAddress(address)))
      return found(Object.assign(new Error('An inner address'), { code: INNER_ADDRESS }), []);
    const [first] = addresses;
    return options.all ? found(null, addresses) : found(null, first!.address, first!.family);
  });
}
