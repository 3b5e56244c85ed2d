import { pickSettings } from '@heliphon/core/schedule/event-settings';
import type { EventView } from '@heliphon/contracts/events';
import type { EventEntity } from '../tables/event.entity.js';

export const posterUrl = (posterId: string | null): string | null =>
  posterId ? `/posters/${posterId}/1280.jpg` : null;

/** How an event goes over the wire. */
export function eventView(
  event: EventEntity,
  related: Pick<
    EventView,
    'destinationIds' | 'pausedDestinationIds' | 'placeSizes' | 'duties' | 'clash' | 'openChecks'
  >,
): EventView {
  return {
    id: event.id,
    version: event.version,
    title: event.title,
    description: event.description,
    slug: event.slug,
    posterUrl: posterUrl(event.posterId),
    filmId: event.filmId,
    filmMs: event.filmMs,
    startsAtMs: event.startsAtMs,
    stopsAtMs: event.stopsAtMs,
    zone: event.zone,
    channelId: event.channelId,
    sourceId: event.sourceId,
    standbySourceId: event.standbySourceId,
    prefersStandby: event.prefersStandby,
    ...pickSettings(event),
    state: event.state,
    series: event.seriesId
      ? { id: event.seriesId, date: event.seriesDate!, ownFields: event.ownFields }
      : null,
    rehearsalOf: event.rehearsalOf,
    isDraft: event.isDraft,
    programmeId: event.programmeId,
    doorsAtMs: event.doorsAtMs ?? event.doorsDueAtMs,
    airAtMs: event.airAtMs,
    endAtMs: event.endAtMs,
    endCause: event.endCause,
    notice: event.notice,
    ...related,
  };
}
