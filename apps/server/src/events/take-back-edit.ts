import { isDeepStrictEqual } from 'node:util';
import { pickSettings } from '@heliphon/core/schedule/event-settings';
import { onDuty } from '@heliphon/core/duties/duties';
import { localOf } from '@heliphon/core/schedule/civil-time';
import type { EditEvent, EventView } from '@heliphon/contracts/events';

/** What an edit could have changed, as an edit says it. */
export const editable = (view: EventView): Required<EditEvent> => ({
  title: view.title,
  description: view.description,
  slug: view.slug,
  startsAtLocal: localOf(view.startsAtMs, view.zone),
  stopsAtLocal: localOf(view.stopsAtMs, view.zone),
  zone: view.zone,
  isDraft: view.isDraft,
  filmId: view.filmId,
  channelId: view.channelId,
  sourceId: view.sourceId,
  standbySourceId: view.standbySourceId,
  destinationIds: [...view.destinationIds].sort(),
  duties: onDuty(view.duties),
  ...pickSettings(view),
});

/**
 * The edit that takes an earlier one back: the fields that it changed, as they were before.
 * @returns `isStale` where one of them has been changed again since.
 */
export function takeBack(
  before: EventView,
  after: EventView,
  now: EventView,
): { readonly change: EditEvent; readonly isStale: boolean } {
  const [was, became, is] = [editable(before), editable(after), editable(now)];
  const fields = (Object.keys(was) as (keyof EditEvent)[]).filter(
    (field) => !isDeepStrictEqual(was[field], became[field]),
  );
  return {
    change: Object.fromEntries(fields.map((field) => [field, was[field]])),
    isStale: fields.some((field) => !isDeepStrictEqual(became[field], is[field])),
  };
}
