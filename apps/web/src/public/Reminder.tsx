import { useEffect, useState } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { say } from '../words/say.js';

/** A notice in this browser while the page stays open, or a calendar file that reminds anywhere. */
export function Reminder({ event, nowMs }: { event: PublicEvent; nowMs: () => number }) {
  const [isSet, setIsSet] = useState(false);
  const canNotify = 'Notification' in window && window.isSecureContext;
  const { title, startsAtMs, house } = event;
  useEffect(() => {
    if (!isSet) return;
    const waitMs = startsAtMs - nowMs();
    if (waitMs < 0 || waitMs > 2 ** 31 - 1) return;
    const timer = window.setTimeout(
      () => new Notification(title, { body: say('event.beginsNow', { house: house.name }) }),
      waitMs,
    );
    return () => window.clearTimeout(timer);
  }, [isSet, startsAtMs, title, house.name, nowMs]);
  const remind = async (): Promise<void> => setIsSet((await Notification.requestPermission()) === 'granted');
  return (
    <>
      <a className="public-link" href={`/api/public/events/${event.slug}/reminder.ics`}>
        {say('event.addToCalendar')}
      </a>
      {canNotify && !isSet && (
        <button type="button" className="public-link" onClick={() => void remind()}>
          {say('event.tellMe')}
        </button>
      )}
      {isSet && <span role="status">{say('event.willTell')}</span>}
    </>
  );
}
