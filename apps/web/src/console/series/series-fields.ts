import type { SeriesField } from '@heliphon/core/schedule/series-plan';
import type { EditSeries, SeriesView } from '@heliphon/contracts/series';

const WHEN: ReadonlySet<keyof EditSeries> = new Set(['rule', 'firstDate', 'timeOfDay', 'lengthMinutes']);

/** By what name people know a field of a series; an address is part of its title to them. */
export const seriesFieldOf = (field: keyof EditSeries): SeriesField =>
  WHEN.has(field) ? 'when' : field === 'slug' ? 'title' : (field as SeriesField);

/** Of the fields that one is changing, those that somebody else has changed since one began. */
export function changedByBoth(
  draft: EditSeries,
  base: SeriesView | null,
  now: SeriesView,
): (keyof EditSeries)[] {
  if (!base) return [];
  return (Object.keys(draft) as (keyof EditSeries)[]).filter(
    (field) => JSON.stringify(base[field]) !== JSON.stringify(now[field]),
  );
}

/** What is left of a draft without these fields. */
export const without = (draft: EditSeries, fields: readonly (keyof EditSeries)[]): EditSeries =>
  Object.fromEntries(Object.entries(draft).filter(([field]) => !fields.includes(field as keyof EditSeries)));
