/** Where nothing of ours is sent: this machine, its own network, and addresses that belong to no single host (RFC 6890). */
const NETS: readonly (readonly [address: string, prefix: number])[] = [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
  ['::', 127],
  ['64:ff9b::', 96],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
];

interface Ip {
  readonly length: 32 | 128;
  readonly bits: bigint;
}

const INNER = NETS.map(([address, prefix]) => ({ ip: ipOf(address)!, prefix }));
/** IPv4 within IPv6 (RFC 4291, 2.5.5.2). */
const MAPPED = 0xffffn;

/** Whether an IP address is an inner one. @param address - without brackets; anything that is no address counts as inner. */
export function isInnerAddress(address: string): boolean {
  const ip = ipOf(address);
  if (!ip) return true;
  const { length, bits } = ip.bits >> 32n === MAPPED ? { length: 32, bits: ip.bits & 0xffffffffn } : ip;
  return INNER.some((net) => {
    const rest = BigInt(length - net.prefix);
    return net.ip.length === length && bits >> rest === net.ip.bits >> rest;
  });
}

/** Whether it is an address and no name. @param host - without brackets */
export const isIpAddress = (host: string): boolean => ipOf(host) !== null;

function ipOf(text: string): Ip | null {
  const v4 = v4Of(text);
  if (v4 !== null) return { length: 32, bits: v4 };
  const bits = v6Of(text);
  return bits === null ? null : { length: 128, bits };
}

function v4Of(text: string): bigint | null {
  if (!/^\d{1,3}(\.\d{1,3}){3}$/.test(text)) return null;
  const bytes = text.split('.').map(Number);
  return bytes.some((byte) => byte > 255)
    ? null
    : bytes.reduce((bits, byte) => (bits << 8n) | BigInt(byte), 0n);
}

/** RFC 4291, 2.2: groups of hex digits, one run of noughts left out, the last two perhaps as IPv4. */
function v6Of(text: string): bigint | null {
  const sides = text.split('::');
  if (sides.length > 2) return null;
  const [before, after] = sides.map((side) => (side === '' ? [] : side.split(':')));
  const groups = [before, after].map((side) =>
    side?.flatMap((group, place) => groupsOf(group, place === side.length - 1)),
  );
  const [head = [], tail = []] = groups;
  const missing = 8 - head.length - tail.length;
  if (sides.length === 1 ? missing !== 0 : missing < 1) return null;
  const all = [...head, ...Array<number>(missing).fill(0), ...tail];
  if (all.some((group) => Number.isNaN(group))) return null;
  return all.reduce((bits, group) => (bits << 16n) | BigInt(group), 0n);
}

function groupsOf(group: string, isLast: boolean): number[] {
  const v4 = isLast ? v4Of(group) : null;
  if (v4 !== null) return [Number(v4 >> 16n), Number(v4 & 0xffffn)];
  return [/^[0-9a-f]{1,4}$/i.test(group) ? parseInt(group, 16) : NaN];
}
