import { ICalAlarmType } from 'ical-generator';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { calendarId, newCalendar } from '../calendars/calendar-file.js';

const REMIND_SECONDS = 15 * 60;

/** An event as an iCalendar file (RFC 5545) that reminds a quarter of an hour before it begins. */
export function reminderFile(event: PublicEvent, publicUrl: string): string {
  const address = `${publicUrl}/watch/${event.slug}`;
  const calendar = newCalendar('Reminder', event.house.name);
  const entry = calendar.createEvent({
    id: calendarId(event.chat.eventId),
    start: new Date(event.startsAtMs),
    end: new Date(event.endsAtMs),
    stamp: new Date(event.serverNowMs),
    sequence: event.seq,
    summary: event.title,
    description: `${event.description}\n\n${address}`.trim(),
    location: address,
    url: address,
  });
  entry.createAlarm({ type: ICalAlarmType.display, trigger: REMIND_SECONDS, description: event.title });
  return calendar.toString();
}
