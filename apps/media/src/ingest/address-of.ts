import type { IncomingMessage } from 'node:http';
import { BlockList, isIPv6 } from 'node:net';

const LOOPBACK = ['127.0.0.0/8', '::1/128'];

/** Those whose word counts for who asks. @param proxies - addresses, networks, `loopback` */
export class TrustedProxies {
  readonly #networks = new BlockList();

  constructor(proxies: readonly string[]) {
    for (const network of proxies.flatMap((one) => (one === 'loopback' ? LOOPBACK : [one]))) {
      const [address, bits] = network.split('/') as [string, string?];
      const family = isIPv6(address) ? 'ipv6' : 'ipv4';
      if (bits === undefined) this.#networks.addAddress(address, family);
      else this.#networks.addSubnet(address, Number(bits), family);
    }
  }

  /** Who asks: what the nearest trusted proxy says, else who is connected. */
  addressOf({ socket, headers }: IncomingMessage): string {
    const chain = String(headers['x-forwarded-for'] ?? '')
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean);
    let address = socket.remoteAddress ?? 'unknown';
    while (chain.length > 0 && this.#isTrusted(address)) address = chain.pop()!;
    return address;
  }

  #isTrusted(address: string): boolean {
    const plain = address.replace(/^::ffff:/, '');
    return this.#networks.check(plain, isIPv6(plain) ? 'ipv6' : 'ipv4');
  }
}
