import { lookup as resolve, type LookupAddress, type LookupOptions } from 'node:dns';
import { isIP } from 'node:net';
import { isInnerAddress } from '@heliphon/core/net/inner-address';

/** Where nothing of ours goes: this machine and its network. */
export class InnerAddress extends Error {}

type Found = (error: Error | null, address: string | LookupAddress[], family?: number) => void;

/**
 * Resolves a name as usual, and refuses what lies within. What is connected to is what was looked up here, so that a name
 * cannot mean something else a moment later.
 */
function resolveOutside(host: string, options: LookupOptions, found: Found): void {
  resolve(host, { ...options, all: true }, (error, addresses) => {
    if (error) return found(error, []);
    if (addresses.some(({ address }) => isInnerAddress(address))) return found(new InnerAddress(), []);
    const [first] = addresses;
    return options.all ? found(null, addresses) : found(null, first!.address, first!.family);
  });
}

/**
 * How a request is sent to an address of others, for `http.request`.
 * @param mayBeInner - where somebody tries it out on one machine
 * @throws InnerAddress for an inner one that is written as a number; of a name it comes with the request
 */
export function outside({ hostname }: URL, mayBeInner: boolean): { lookup?: typeof resolveOutside } {
  if (mayBeInner) return {};
  const host = hostname.replace(/^\[|\]$/g, '');
  if (isIP(host) !== 0 && isInnerAddress(host)) throw new InnerAddress();
  return { lookup: resolveOutside };
}

/** Why nothing was reached. */
export type OutsideFault = 'inner-address' | 'too-slow' | 'not-found' | 'not-secure' | 'unreachable';

export function outsideFault(error: NodeJS.ErrnoException): OutsideFault {
  if (error instanceof InnerAddress) return 'inner-address';
  if (error.name === 'AbortError' || error.name === 'TimeoutError') return 'too-slow';
  if (error.code === 'ENOTFOUND' || error.code === 'EAI_AGAIN') return 'not-found';
  return /CERT|TLS|SSL|SELF_SIGNED/.test(error.code ?? '') ? 'not-secure' : 'unreachable';
}
