import { isDeepStrictEqual } from 'node:util';
import type { SeriesField } from '@heliphon/core/schedule/series-plan';
import type { EditEvent, EventView } from '@heliphon/contracts/events';
import { editable } from './take-back-edit.js';

/** Each event's own in any case. */
const NEVER_FROM_SERIES: ReadonlySet<keyof EditEvent> = new Set(['slug', 'isDraft']);

/** What a series calls the fields of an edit. */
const SERIES_NAMES: Readonly<Partial<Record<keyof EditEvent, SeriesField>>> = {
  startsAtLocal: 'when',
  stopsAtLocal: 'when',
  zone: 'when',
};

/** What an edit really changed of what an event takes from its series. */
export function changedFields(before: EventView, after: EventView): SeriesField[] {
  const [was, is] = [editable(before), editable(after)];
  const changed = (Object.keys(was) as (keyof EditEvent)[]).filter(
    (field) => !NEVER_FROM_SERIES.has(field) && !isDeepStrictEqual(was[field], is[field]),
  );
  return [...new Set(changed.map((field) => SERIES_NAMES[field] ?? (field as SeriesField)))];
}
