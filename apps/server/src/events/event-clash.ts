import { type Booking, type Clash, findClashes } from '@heliphon/core/schedule/clashes';
import type { EventDestinationEntity, EventEntity } from './event.entity.js';

export const isOver = (event: Pick<EventEntity, 'state'>): boolean =>
  event.state === 'kept' || event.state === 'cancelled';

export type EventBooking = Booking & { readonly title: string };

/**
 * From doors to stop: an overrun that touches the next event is no clash yet.
 * @param shared - sources that any number of events may have at once
 */
export function bookingsOf(
  events: readonly EventEntity[],
  links: readonly Pick<EventDestinationEntity, 'eventId' | 'destinationId'>[],
  shared: ReadonlySet<string>,
): EventBooking[] {
  const places = new Map<string, string[]>();
  for (const { eventId, destinationId } of links)
    places.set(eventId, [...(places.get(eventId) ?? []), destinationId]);
  return events.map((event) => ({
    eventId: event.id,
    title: event.title,
    sourceId: shared.has(event.sourceId ?? '') ? null : event.sourceId,
    placeIds: places.get(event.id) ?? [],
    fromMs: event.doorsDueAtMs,
    toMs: event.stopsAtMs,
  }));
}

/** The first event that wants the same source, or one of the same places, at the same time. */
export const firstClash = (own: EventBooking, rivals: readonly EventBooking[]): Clash<EventBooking> | null =>
  findClashes(own, rivals)[0] ?? null;
