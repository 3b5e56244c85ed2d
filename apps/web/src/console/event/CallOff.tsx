import { useState } from 'react';
import { useNavigate } from 'react-router';
import { EVENT_LIMITS, type EventView } from '@heliphon/contracts/events';
import { cancelEvent, deleteEvent, reinstateEvent } from '../../data/commands.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';

/** An event that shall not be: cancelled, so that people are told, or deleted, as if it had never been planned. */
export function CallOff({ event }: { event: EventView }) {
  const [asked, setAsked] = useState<'cancel' | 'delete' | null>(null);
  if (event.state === 'cancelled') return <AfterAll event={event} />;
  if (event.state !== 'planned' && event.state !== 'doors') return null;
  const leave = (): void => setAsked(null);
  if (asked === 'cancel') return <CancelEvent event={event} onLeave={leave} />;
  if (asked === 'delete') return <DeleteEvent event={event} onLeave={leave} />;
  return (
    <div className="flex flex-wrap justify-end gap-3">
      <Button kind="quiet" onClick={() => setAsked('cancel')}>
        Cancel the event
      </Button>
      {event.state === 'planned' && (
        <Button kind="quiet" onClick={() => setAsked('delete')}>
          Delete the event
        </Button>
      )}
    </div>
  );
}

interface AskedProps {
  readonly event: EventView;
  readonly onLeave: () => void;
}

function CancelEvent({ event, onLeave }: AskedProps) {
  const [notice, setNotice] = useState('');
  const action = useAction();
  return (
    <div
      role="group"
      aria-label="Cancel the event"
      className="grid gap-3 rounded-md border border-edge bg-sunk p-4"
    >
      <p>Its page says at once that it will not take place, also to those who wait there.</p>
      <TextField
        label="What else people should know"
        value={notice}
        maxLength={EVENT_LIMITS.noticeLength}
        hint="For instance: the storm; we meet again next Sunday."
        onChange={(typed) => setNotice(typed.target.value)}
      />
      <Fault error={action.error} />
      <div className="flex flex-wrap justify-end gap-3">
        <Button onClick={onLeave}>Let it take place</Button>
        <Button
          kind="mend"
          disabled={action.isBusy}
          onClick={() => void action.run(() => cancelEvent(event, notice).then(onLeave))}
        >
          Cancel “{event.title}”
        </Button>
      </div>
    </div>
  );
}

function DeleteEvent({ event, onLeave }: AskedProps) {
  const navigate = useNavigate();
  const action = useAction();
  return (
    <div className="flex flex-wrap items-center justify-end gap-3" role="group" aria-label="Delete the event">
      <span>
        {event.series
          ? 'Its page goes with it, and the series leaves this date out.'
          : 'Its page and address go with it.'}
      </span>
      <Fault error={action.error} />
      <Button onClick={onLeave}>Keep it</Button>
      <Button
        kind="mend"
        disabled={action.isBusy}
        onClick={() => void action.run(() => deleteEvent(event.id).then(() => navigate('/')))}
      >
        Delete “{event.title}”
      </Button>
    </div>
  );
}

function AfterAll({ event }: { event: EventView }) {
  const action = useAction();
  return (
    <div className="grid gap-2 rounded-md border border-edge bg-sunk p-4">
      <p>Cancelled. Its page says so{event.notice ? <>, and: “{event.notice}”</> : '.'}</p>
      <Fault error={action.error} />
      <Button
        className="justify-self-start"
        disabled={action.isBusy}
        onClick={() => void action.run(() => reinstateEvent(event))}
      >
        It takes place after all
      </Button>
    </div>
  );
}
