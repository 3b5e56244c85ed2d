import { useState } from 'react';
import { useActivity, useCan } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { RecordRow } from '../house/RecordPart.js';

/** What happened to one event, newest first: moved by the clock, changed by whom, taken back. */
export function EventHistory({ eventId }: { eventId: string }) {
  const canRead = useCan('activity.read');
  const [isOpen, setOpen] = useState(false);
  if (!canRead) return null;
  return (
    <section aria-label="What happened" className="mt-8 border-t border-line pt-3">
      <Button kind="quiet" className="-ml-3" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        What happened to this event
      </Button>
      {isOpen && <History eventId={eventId} />}
    </section>
  );
}

function History({ eventId }: { eventId: string }) {
  const { data, error, mutate } = useActivity(`subjectId=${eventId}&limit=50`);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what="what happened" />;
  if (data.items.length === 0)
    return <Empty>Nothing has happened to it by itself: it follows its series.</Empty>;
  return (
    <ul>
      {data.items.map((entry) => (
        <RecordRow key={entry.id} entry={entry} />
      ))}
    </ul>
  );
}
