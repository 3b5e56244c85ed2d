import type { LeaveReason } from '@heliphon/core/schedule/import-plan';
import type { Rule } from '@heliphon/core/schedule/rule-choices';

export const IMPORT_LIMITS = { bytes: 2_000_000, entries: 1000 } as const;

/** Why an entry of a calendar file is left alone. */
export type ImportReason =
  | LeaveReason
  | 'all-day'
  | 'zone-unknown'
  /** One date of something that repeats, changed there: the series is made, this change is not. */
  | 'one-date'
  | 'rule-unreadable'
  | 'long-ago'
  | 'refused'
  | 'unreadable';

/** What becomes, or became, of one entry. */
export interface ImportEntry {
  readonly uid: string;
  readonly title: string;
  readonly startsAtMs: number | null;
  /** How it repeats; `null` for a single event. */
  readonly repeats: Rule | null;
  readonly action: 'make' | 'change' | 'leave';
  readonly reason: ImportReason | null;
}

export interface ImportView {
  readonly entries: readonly ImportEntry[];
}
