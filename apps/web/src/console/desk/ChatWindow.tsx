import { EventGate } from '../event/EventGate.js';
import { DeskChat } from './DeskChat.js';

/** The chat in a window of its own, beside another program or on a phone. */
export function ChatWindow() {
  return (
    <div className="flex h-[100dvh] flex-col bg-ground px-4 pb-3 text-ink">
      <EventGate>
        {(event) => (
          <>
            <h1 className="pt-3 text-[19px]">{event.title}</h1>
            <DeskChat event={event} isAlone />
          </>
        )}
      </EventGate>
    </div>
  );
}
