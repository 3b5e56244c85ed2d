import ical, { type ICalCalendar, ICalEventStatus } from 'ical-generator';
import type { EventEntity } from '../events/event.entity.js';

/** How often a calendar program should ask again. */
const ASK_AGAIN_SECONDS = 15 * 60;

interface CalendarEntry {
  /** What names it to calendar programs. */
  readonly id: string;
  readonly summary: string;
  readonly event: EventEntity;
}

interface CalendarFacts {
  readonly name: string;
  readonly publicUrl: string;
  readonly nowMs: number;
  readonly entries: readonly CalendarEntry[];
}

/** An empty calendar of ours (RFC 5545). */
export const newCalendar = (product: string, name: string): ICalCalendar =>
  ical({ prodId: { company: 'Heliphon', product }, name });

/** What names an event to calendar programs, whichever file it comes in. */
export const calendarId = (eventId: string): string => `${eventId}@heliphon`;

/** An event as everybody's calendar shows it. */
export const entryOf = (event: EventEntity): CalendarEntry => ({
  id: calendarId(event.id),
  summary: event.title,
  event,
});

/** A house's events as a calendar to subscribe to. Times are instants: every program shows them in its own zone. */
export function calendarFile({ name, publicUrl, nowMs, entries }: CalendarFacts): string {
  const calendar = newCalendar('Calendar', name);
  calendar.ttl(ASK_AGAIN_SECONDS);
  for (const { id, summary, event } of entries) {
    const address = `${publicUrl}/watch/${event.slug}`;
    calendar.createEvent({
      id,
      start: new Date(event.startsAtMs),
      end: new Date(event.stopsAtMs),
      stamp: new Date(nowMs),
      sequence: event.version,
      summary,
      description: [event.notice, event.description, address].filter(Boolean).join('\n\n'),
      location: address,
      url: address,
      status: event.state === 'cancelled' ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
    });
  }
  return calendar.toString();
}
