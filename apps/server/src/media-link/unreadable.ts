/** A source or place whose secret cannot be opened any more. */
export interface Unreadable {
  readonly subjectKind: 'source' | 'destination';
  readonly subjectId: string;
  readonly houseId: string;
}

/** What a secret opens, or `null`, noted, where it cannot be read: whatever else there is goes on without it. */
export function opened<T>(what: Unreadable, unreadable: Unreadable[], open: () => T): T | null {
  try {
    return open();
  } catch {
    unreadable.push(what);
    return null;
  }
}
