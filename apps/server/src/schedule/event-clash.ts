import {
  type Booking,
  type Clash,
  findClashes,
  type SpanIndex,
  spansDuring,
} from '@heliphon/core/schedule/clashes';
import type { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';

export const isOver = (event: Pick<EventEntity, 'state'>): boolean =>
  event.state === 'kept' || event.state === 'cancelled';

/** What has to be known of an event to see whether it is in another's way. */
export const RIVAL_COLUMNS = {
  id: true,
  title: true,
  sourceId: true,
  standbySourceId: true,
  doorsDueAtMs: true,
  stopsAtMs: true,
} as const;
export type Rival = Pick<EventEntity, keyof typeof RIVAL_COLUMNS>;

export type EventBooking = Booking & { readonly title: string };

/**
 * From doors to stop: an overrun that touches the next event is no clash yet.
 * @param shared - sources that any number of events may have at once
 */
export function bookingsOf(
  events: readonly Rival[],
  links: readonly Pick<EventDestinationEntity, 'eventId' | 'destinationId'>[],
  shared: ReadonlySet<string>,
): EventBooking[] {
  const places = new Map<string, string[]>();
  for (const { eventId, destinationId } of links)
    places.set(eventId, [...(places.get(eventId) ?? []), destinationId]);
  return events.map((event) => ({
    eventId: event.id,
    title: event.title,
    sourceIds: [event.sourceId, event.standbySourceId].flatMap((id) =>
      id === null || shared.has(id) ? [] : [id],
    ),
    placeIds: places.get(event.id) ?? [],
    fromMs: event.doorsDueAtMs,
    toMs: event.stopsAtMs,
  }));
}

/** The first event that needs the same source, or one of the same places, at the same time. */
export const firstClash = (own: EventBooking, rivals: SpanIndex<EventBooking>): Clash<EventBooking> | null =>
  findClashes(own, spansDuring(rivals, own))[0] ?? null;
