import { inherit, type Inherited, type Said } from '../inherited.js';

/** Who may watch: everyone; those with the link; those with the password; invited people; people of the house. */
export const ADMISSIONS = ['everyone', 'link', 'password', 'invited', 'house'] as const;
export type Admission = (typeof ADMISSIONS)[number];

/** Only at the named, or everywhere but there. */
export interface SiteRule {
  readonly kind: 'only' | 'not';
  /** Hosts with their port, where there is one; `*.` in front stands for any name below. */
  readonly hosts: readonly string[];
}

export interface CountryRule {
  readonly kind: 'only' | 'not';
  /** ISO 3166-1 alpha-2, in capitals. */
  readonly codes: readonly string[];
  /** Whether somebody may watch whose country nobody knows. */
  readonly admitsUnknown: boolean;
}

export interface WatchRules {
  readonly live: Admission;
  readonly replay: Admission;
  /** Where it may be shown; `null`: anywhere. */
  readonly sites: SiteRule | null;
  /** `null`: in every country. */
  readonly countries: CountryRule | null;
  /** Whether somebody who may not watch reads what the event is called. */
  readonly showsTitle: boolean;
}
export type WatchRulePart = keyof WatchRules;
/** What one level says itself; the rest comes from above. */
export type OwnWatchRules = Partial<WatchRules>;

export const WATCH_RULE_LIMITS = { hosts: 50, hostLength: 100, countries: 100 } as const;
export const USUAL_WATCH_RULES: WatchRules = {
  live: 'everyone',
  replay: 'everyone',
  sites: null,
  countries: null,
  showsTitle: true,
};
export const WATCH_RULE_PARTS = Object.keys(USUAL_WATCH_RULES) as readonly WatchRulePart[];

export type InheritedWatchRules = Inherited<WatchRules>;
export const inheritWatchRules = (said: Said<WatchRules>): InheritedWatchRules =>
  inherit(USUAL_WATCH_RULES, said);

export type WatchPhase = 'live' | 'replay';

/** Somebody who wants to watch, as far as anything is known of them. */
export interface WatchVisitor {
  /** Signed in as one of the house. */
  readonly isOfHouse: boolean;
  /** What they have shown for this event. */
  readonly proofs: readonly ('password' | 'invited')[];
  /** ISO 3166-1 alpha-2; `null` where nobody knows. */
  readonly country: string | null;
  /** The website that shows it, by its host, empty where it does not say; `null` on a page of ours. */
  readonly site: string | null;
}

/** Of whom nothing is known, on a page of ours. */
export const STRANGER: WatchVisitor = { isOfHouse: false, proofs: [], country: null, site: null };

/** Why somebody may not watch. */
export type WatchRefusal =
  | { readonly why: 'site'; /** Where they may. */ readonly hosts: readonly string[] }
  | { readonly why: 'country' | 'password' | 'invited' | 'house' }
  /** Their invitation is in use on as many devices as it may be. */
  | { readonly why: 'devices'; readonly most: number };

/**
 * Whether somebody may watch; the first reason why not. People of the house always may: they have to see what viewers do.
 * What cannot be helped by the visitor is said before what can.
 */
export function refusalOf(rules: WatchRules, phase: WatchPhase, visitor: WatchVisitor): WatchRefusal | null {
  if (visitor.isOfHouse) return null;
  const { sites, countries } = rules;
  if (sites && !isShownAt(sites, visitor.site))
    return {
      why: 'site',
      hosts: sites.kind === 'only' ? sites.hosts.filter((host) => !host.startsWith('*')) : [],
    };
  if (countries && !isWithin(countries, visitor.country)) return { why: 'country' };
  const admission = rules[phase];
  if (admission === 'everyone' || admission === 'link') return null;
  if (admission !== 'house' && visitor.proofs.includes(admission)) return null;
  return { why: admission };
}

/** Whether addresses are given to some alone, so that they have to end soon after somebody is put out. */
export const isGuarded = ({ sites, countries, ...rules }: WatchRules, phase: WatchPhase): boolean =>
  sites?.kind === 'only' || countries !== null || !isOpen(rules[phase]);

/** Whether anybody may come across it: in lists, in search engines. */
export const isListed = (rules: WatchRules, phase: WatchPhase): boolean =>
  rules[phase] !== 'link' && (rules.showsTitle || isOpen(rules[phase]));

const isOpen = (admission: Admission): boolean => admission === 'everyone' || admission === 'link';

/** A website that does not say its name is left to the browser, which knows it (CSP `frame-ancestors`). */
function isShownAt({ kind, hosts }: SiteRule, site: string | null): boolean {
  if (site === '') return true;
  const isNamed = site !== null && hosts.some((host) => matchesHost(host, site));
  return kind === 'only' ? isNamed : !isNamed;
}

/** @param pattern - a host, or `*.` and what names below it end with. */
export const matchesHost = (pattern: string, host: string): boolean =>
  pattern.startsWith('*.') ? host.endsWith(pattern.slice(1)) : host === pattern;

const isWithin = ({ kind, codes, admitsUnknown }: CountryRule, country: string | null): boolean =>
  country === null ? admitsUnknown : codes.includes(country) === (kind === 'only');

/** `frame-ancestors` of an embed (W3C CSP Level 3, 6.4.2): which websites may hold it. */
export const frameAncestors = ({ sites }: WatchRules): string =>
  sites?.kind === 'only' ? ["'self'", ...sites.hosts].join(' ') : '*';

/** A password as it is compared: told by word of mouth, and typed by telephones that begin with a capital. */
export const foldPassword = (text: string): string =>
  text.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ').trim();

/**
 * A rule by which a website may show an event from now on, or may not.
 * @returns `undefined` where that cannot be said of one website alone: it is the last that may, or one of many of a name
 */
export function withSite(rule: SiteRule | null, host: string, mayShow: boolean): SiteRule | null | undefined {
  const others = rule?.hosts.filter((known) => known !== host) ?? [];
  if (!rule) return mayShow ? null : { kind: 'not', hosts: [host] };
  const isNamed = others.length < rule.hosts.length;
  if (mayShow === (rule.kind === 'only')) return { kind: rule.kind, hosts: [...others, host] };
  if (!isNamed) return undefined;
  if (others.length > 0) return { kind: rule.kind, hosts: others };
  return rule.kind === 'not' ? null : undefined;
}
