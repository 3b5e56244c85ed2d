import type { EventFilter } from '@heliphon/contracts/events';

/** A filter as a query. */
export const filterQuery = (filter: EventFilter): string =>
  Object.entries(filter)
    .map(([name, value]) => `&${name}=${encodeURIComponent(value)}`)
    .join('');
