import ICAL from 'ical.js';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { calendarId } from '../calendars/calendar-file.js';
import { calendarText, newCalendar, newEntry, setInstants } from '../calendars/calendar-text.js';

const REMIND_SECONDS = 15 * 60;

/** An event as an iCalendar file (RFC 5545) that reminds a quarter of an hour before it begins. */
export function reminderFile(event: PublicEvent, changedAtMs: number, publicUrl: string): string {
  const address = `${publicUrl}/watch/${event.slug}`;
  const calendar = newCalendar('Reminder', event.house.name);
  const entry = newEntry({
    uid: calendarId(event.chat.eventId),
    summary: event.title,
    description: [event.notice, event.description, address].filter(Boolean).join('\n\n'),
    address,
    isCancelled: event.state === 'cancelled',
    changedAtMs,
    sequence: event.seq,
  });
  setInstants(entry, event.startsAtMs, event.endsAtMs);
  const alarm = new ICAL.Component('valarm');
  alarm.addPropertyWithValue('action', 'DISPLAY');
  alarm.addPropertyWithValue('trigger', ICAL.Duration.fromSeconds(-REMIND_SECONDS));
  alarm.addPropertyWithValue('description', event.title);
  entry.addSubcomponent(alarm);
  calendar.addSubcomponent(entry);
  return calendarText(calendar);
}
