import { findClashes } from '@heliphon/core/schedule/clashes';
import type { EventView } from '@heliphon/contracts/events';
import type { EventEntity } from './event.entity.js';

export const isOver = (event: EventEntity): boolean => event.state === 'kept' || event.state === 'cancelled';

/** From doors to stop: an overrun that touches the next event is no clash yet. */
const booking = (event: EventEntity) => ({
  eventId: event.id,
  title: event.title,
  sourceId: event.sourceId,
  fromMs: event.doorsDueAtMs,
  toMs: event.stopsAtMs,
});

/** The first event that wants the same source at the same time. */
export function clashOf(event: EventEntity, rivals: readonly EventEntity[]): EventView['clash'] {
  const clash = isOver(event) ? undefined : findClashes(booking(event), rivals.map(booking))[0];
  return clash ? { eventId: clash.eventId, title: clash.title } : null;
}
