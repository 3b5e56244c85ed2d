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
  destinationIds: [...view.destinationIds].sort(),
  duties: onDuty(view.duties),
  chatOpen: view.chatOpen,
  doorsMinutes: view.doorsMinutes,
  overrunMinutes: view.overrunMinutes,
  deadAirMinutes: view.deadAirMinutes,
  rewindMinutes: view.rewindMinutes,
});

export const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

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
    (field) => !isSame(was[field], became[field]),
  );
  return {
    change: Object.fromEntries(fields.map((field) => [field, was[field]])),
    isStale: fields.some((field) => !isSame(became[field], is[field])),
  };
}
