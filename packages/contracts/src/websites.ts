import type { SiteRule } from '@heliphon/core/access/watch-rules';
import type { Level } from '@heliphon/core/inherited';
import type { PageFinding } from '@heliphon/core/websites/judge-page';

/** What can stand on a website: the house itself has no page. */
export type ShownLevel = Exclude<Level, 'house'>;
export const SHOWN_LEVELS = ['channel', 'series', 'event'] as const satisfies readonly ShownLevel[];

/** What came of looking at a page: what is there, or why it could not be read. */
export type WebsiteFinding = PageFinding | { readonly kind: 'unread'; readonly why: string };

/** A website on which something of ours stands, or should. */
export interface WebsiteView {
  readonly id: string;
  readonly host: string;
  /** The page that was looked at; `null` where only the embed has told of it. */
  readonly address: string | null;
  readonly finding: WebsiteFinding | null;
  readonly checkedAtMs: number | null;
  /** When an embed was last opened there; `null`: never. */
  readonly seenAtMs: number | null;
  /** How many watched there at once, at most, in the last three months. */
  readonly mostViewers: number;
}

export interface WebsitesView {
  readonly id: string;
  readonly level: ShownLevel;
  readonly name: string;
  /** Of its page and its embed. */
  readonly slug: string;
  /** Where it may be shown. */
  readonly sites: SiteRule | null;
  readonly websites: readonly WebsiteView[];
}

export interface CheckWebsite {
  readonly address: string;
}
