import type { ReactNode } from 'react';
import { useParams } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { useEvent } from '../../data/events.js';
import { Failed, Loading } from '../../ui/states.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** The event of this address: while it comes, when it does not, and then what is shown of it. */
export function EventGate({ children }: { children: (event: EventView) => ReactNode }) {
  const { id = '' } = useParams();
  const { data: event, error, mutate } = useEvent(id);
  if (event) return children(event);
  return (
    <div className="p-5">
      {error ? (
        <Failed error={error} onRetry={() => void mutate()} />
      ) : (
        <Loading what={EVENT_TEXT.theEvent} rows={6} />
      )}
    </div>
  );
}
