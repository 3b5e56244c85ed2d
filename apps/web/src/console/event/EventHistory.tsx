import { useState } from 'react';
import { useActivity } from '../../data/activity.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { RecordRow } from '../house/RecordPart.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** What happened to one event, newest first: moved by the clock, changed by whom, undone. */
export function EventHistory({ eventId }: { eventId: string }) {
  const canRead = useCan('activity.read');
  const [isOpen, setOpen] = useState(false);
  if (!canRead) return null;
  return (
    <section aria-label={EVENT_TEXT.whatHappened} className="mt-8 border-t border-line pt-3">
      <Button kind="quiet" className="-ml-3" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {EVENT_TEXT.whatHappenedToThisEvent}
      </Button>
      {isOpen && <History eventId={eventId} />}
    </section>
  );
}

function History({ eventId }: { eventId: string }) {
  const { data, error, mutate } = useActivity(`subjectId=${eventId}&limit=50`);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what={EVENT_TEXT.whatHappened2} />;
  if (data.items.length === 0) return <Empty>{EVENT_TEXT.nothingYetItFollowsIts}</Empty>;
  return (
    <ul>
      {data.items.map((entry) => (
        <RecordRow key={entry.id} entry={entry} />
      ))}
    </ul>
  );
}
