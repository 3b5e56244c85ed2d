/** What a page may take in, by the first of its directives that a policy names (W3C CSP Level 3, 6.8.3). */
export const POLICY_CHAINS = {
  frame: ['frame-src', 'child-src', 'default-src'],
  script: ['script-src-elem', 'script-src', 'default-src'],
} as const;
export type PolicyChain = keyof typeof POLICY_CHAINS;

/**
 * The directive by which a policy keeps an address out; `null` where it lets it in.
 * @param policy - as a `Content-Security-Policy` header has it, or several joined by commas
 */
export function forbiddenBy(
  policy: string,
  chain: PolicyChain,
  address: string,
  pageAddress: string,
): string | null {
  for (const one of policy.split(',')) {
    const directives = new Map(
      one
        .split(';')
        .map((part) => part.trim().split(/\s+/))
        .filter(([name]) => name)
        .map(([name, ...sources]) => [name!.toLowerCase(), sources] as const)
        // Of a directive that stands twice the first counts.
        .toReversed(),
    );
    const name = POLICY_CHAINS[chain].find((known) => directives.has(known));
    if (!name) continue;
    const target = new URL(address);
    const page = new URL(pageAddress);
    if (!directives.get(name)!.some((source) => matchesSource(source, target, page))) return name;
  }
  return null;
}

const USUAL_PORTS: Readonly<Record<string, string>> = { 'http:': '80', 'https:': '443' };
const portOf = ({ protocol, port }: URL): string => port || (USUAL_PORTS[protocol] ?? '');

/** Whether a source expression stands for an address (W3C CSP Level 3, 6.7.2.7). Paths are not held against it. */
function matchesSource(source: string, target: URL, page: URL): boolean {
  if (source === '*') return USUAL_PORTS[target.protocol] !== undefined;
  if (source.toLowerCase() === "'self'") return target.origin === page.origin;
  if (/^[a-z][a-z0-9+.-]*:$/i.test(source)) return isScheme(source.toLowerCase(), target.protocol);
  const [, scheme, host, port] =
    /^(?:([a-z][a-z0-9+.-]*:)\/\/)?([^/:']+)(?::(\d+|\*))?(?:\/.*)?$/i.exec(source) ?? [];
  if (!host) return false;
  if (!isScheme((scheme ?? page.protocol).toLowerCase(), target.protocol)) return false;
  const name = host.toLowerCase();
  const isHost = name.startsWith('*.') ? target.hostname.endsWith(name.slice(1)) : name === target.hostname;
  const isPort = port === '*' || portOf(target) === (port ?? USUAL_PORTS[target.protocol]);
  return isHost && isPort;
}

/** What is allowed in the open is allowed over TLS too. */
const isScheme = (allowed: string, actual: string): boolean =>
  allowed === actual || (allowed === 'http:' && actual === 'https:');
