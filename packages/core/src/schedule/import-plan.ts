import type { EventState } from './event-life.js';

/** What a calendar file says of one entry, as instants. */
export interface ImportedEvent {
  readonly uid: string;
  readonly title: string;
  readonly description: string;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
  readonly isCancelled: boolean;
}

/** What there is already of it. */
export interface KnownEvent {
  readonly state: EventState;
  readonly title: string;
  readonly description: string;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
}

export type LeaveReason = 'same' | 'past' | 'begun' | 'cancelled' | 'too-long' | 'no-time';

export type ImportAction =
  { readonly action: 'make' | 'change' } | { readonly action: 'leave'; readonly reason: LeaveReason };

const leave = (reason: LeaveReason): ImportAction => ({ action: 'leave', reason });

/**
 * What becomes of one entry of a calendar file; carried out and asked again, the answer is to leave it.
 * @param known - the event that came of it before; `null` where there is none.
 */
export function planImport(
  entry: ImportedEvent,
  known: KnownEvent | null,
  nowMs: number,
  longestMs: number,
): ImportAction {
  if (entry.isCancelled) return leave('cancelled');
  if (entry.stopsAtMs <= entry.startsAtMs) return leave('no-time');
  if (entry.stopsAtMs - entry.startsAtMs > longestMs) return leave('too-long');
  if (entry.stopsAtMs <= nowMs) return leave('past');
  if (!known) return { action: 'make' };
  if (known.state !== 'planned') return leave('begun');
  const fields = ['title', 'description', 'startsAtMs', 'stopsAtMs'] as const;
  return fields.every((field) => known[field] === entry[field]) ? leave('same') : { action: 'change' };
}
