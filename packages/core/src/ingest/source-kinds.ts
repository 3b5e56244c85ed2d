/**
 * What a source is: a `device` sends to us (an encoder, a browser, a box), a `programme` is what another event shows,
 * a `file` is a film of the house, played once.
 */
export const SOURCE_KINDS = ['device', 'programme', 'file'] as const;
export type SourceKind = (typeof SOURCE_KINDS)[number];

/** Only one event at a time can have what a device sends; the others are anybody's. */
export const isShared = (kind: SourceKind): boolean => kind !== 'device';

/** An event or a series, and another whose programme it shows, or whose dates it may be. */
export interface Leads {
  readonly from: string;
  readonly to: string;
}

/** Whether something would, by whatever it follows, in the end show itself. */
export function isItsOwnSource(start: string, leads: readonly Leads[]): boolean {
  const seen = new Set<string>();
  const open = [start];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    for (const { from, to } of leads) {
      if (from !== at) continue;
      if (to === start) return true;
      if (!seen.has(to)) open.push(to);
      seen.add(to);
    }
  }
  return false;
}
