import { matchesHost, type SiteRule } from '../access/watch-rules.js';
import { forbiddenBy, type PolicyChain } from './policy.js';

/** What stands in a page of a website, as far as embeds go. */
export interface ReadPage {
  readonly frames: readonly { readonly src: string; readonly widthPx: number | null }[];
  /** `slug` is the event that our one line names. */
  readonly scripts: readonly { readonly src: string; readonly slug: string | null }[];
  /** `Content-Security-Policy` of `<meta>`. */
  readonly policies: readonly string[];
}

/** Narrower than this the controls of a player have no room. */
export const LEAST_EMBED_PX = 200;

export type PageFinding =
  | { readonly kind: 'shows'; readonly by: PolicyChain }
  /** Something else of ours stands there. */
  | { readonly kind: 'other'; readonly slug: string }
  /** @property hasScripts - one of them may put it in, which cannot be seen from outside */
  | { readonly kind: 'not-there'; readonly hasScripts: boolean }
  /** The website's own policy keeps it out: by a directive, which would have to name our origin. */
  | { readonly kind: 'page-forbids'; readonly directive: string; readonly origin: string }
  /** Who may watch says that it is not to be shown there. */
  | { readonly kind: 'we-forbid' }
  /** A page over TLS takes nothing in that comes without. */
  | { readonly kind: 'insecure' }
  | { readonly kind: 'too-narrow'; readonly widthPx: number };

export interface Judged {
  readonly page: ReadPage;
  readonly pageAddress: string;
  /** Of its headers; empty where it says nothing. */
  readonly policy: string;
  /** Where our embeds come from. */
  readonly origin: string;
  /** Addresses under which it would be the right one. */
  readonly slugs: ReadonlySet<string>;
  readonly sites: SiteRule | null;
}

interface Found {
  readonly by: PolicyChain;
  readonly slug: string;
  /** What the page fetches: the frame, or the script and then the frame. */
  readonly addresses: readonly (readonly [PolicyChain, string])[];
  readonly widthPx: number | null;
}

/** Whether a page shows an event, and what keeps it from that. */
export function judgePage({ page, pageAddress, policy, origin, slugs, sites }: Judged): PageFinding {
  const found = [...framesIn(page, pageAddress, origin), ...linesIn(page, pageAddress, origin)];
  const right = found.find(({ slug }) => slugs.has(slug));
  if (!right) {
    const [other] = found;
    return other
      ? { kind: 'other', slug: other.slug }
      : { kind: 'not-there', hasScripts: page.scripts.length > 0 };
  }
  const isSecure = pageAddress.startsWith('https:');
  if (isSecure && right.addresses.some(([, address]) => address.startsWith('http:')))
    return { kind: 'insecure' };
  const policies = [policy, ...page.policies].filter((one) => one !== '');
  for (const [chain, address] of right.addresses)
    for (const one of policies) {
      const directive = forbiddenBy(one, chain, address, pageAddress);
      if (directive) return { kind: 'page-forbids', directive, origin };
    }
  if (!mayShow(sites, new URL(pageAddress).host)) return { kind: 'we-forbid' };
  if (right.widthPx !== null && right.widthPx < LEAST_EMBED_PX)
    return { kind: 'too-narrow', widthPx: right.widthPx };
  return { kind: 'shows', by: right.by };
}

/** Whether a website may show it. */
export const mayShow = (sites: SiteRule | null, host: string): boolean =>
  sites === null || sites.hosts.some((pattern) => matchesHost(pattern, host)) === (sites.kind === 'only');

function framesIn({ frames }: ReadPage, pageAddress: string, origin: string): Found[] {
  return frames.flatMap(({ src, widthPx }) => {
    const url = resolved(src, pageAddress);
    const slug = url?.origin === origin && /^\/(?:embed|watch)\/([a-z0-9-]+)\/?$/.exec(url.pathname)?.[1];
    return url && slug ? [{ by: 'frame', slug, addresses: [['frame', url.href]], widthPx }] : [];
  });
}

function linesIn({ scripts }: ReadPage, pageAddress: string, origin: string): Found[] {
  return scripts.flatMap(({ src, slug }) => {
    const url = resolved(src, pageAddress);
    if (!slug || url?.origin !== origin || url.pathname !== '/embed.js') return [];
    const addresses = [
      ['script', url.href],
      ['frame', `${origin}/embed/${slug}`],
    ] as const;
    return [{ by: 'script', slug, addresses, widthPx: null }];
  });
}

const resolved = (address: string, base: string): URL | null =>
  URL.canParse(address, base) ? new URL(address, base) : null;
