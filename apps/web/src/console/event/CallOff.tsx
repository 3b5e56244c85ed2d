import { useState } from 'react';
import { useNavigate } from 'react-router';
import { EVENT_LIMITS, type EventView } from '@heliphon/contracts/events';
import { cancelEvent, deleteEvent, reinstateEvent } from '../../data/events.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { EVENT_TEXT } from '../../words/console/event.js';

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
        {EVENT_TEXT.cancelTheEvent}
      </Button>
      {event.state === 'planned' && (
        <Button kind="quiet" onClick={() => setAsked('delete')}>
          {EVENT_TEXT.deleteTheEvent}
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
      aria-label={EVENT_TEXT.cancelTheEvent}
      className="grid gap-3 rounded-md border border-edge bg-sunk p-4"
    >
      <p>{EVENT_TEXT.itsPageWillSayStraight}</p>
      <TextField
        label={EVENT_TEXT.anythingElsePeopleShouldKnow}
        value={notice}
        maxLength={EVENT_LIMITS.noticeLength}
        hint={EVENT_TEXT.forExampleBecauseOfThe}
        onChange={(typed) => setNotice(typed.target.value)}
      />
      <Fault error={action.error} />
      <div className="flex flex-wrap justify-end gap-3">
        <Button onClick={onLeave}>{EVENT_TEXT.keepIt}</Button>
        <Button
          kind="mend"
          disabled={action.isBusy}
          onClick={() => void action.run(() => cancelEvent(event, notice).then(onLeave))}
        >
          {EVENT_TEXT.cancelTitle(event.title)}
        </Button>
      </div>
    </div>
  );
}

function DeleteEvent({ event, onLeave }: AskedProps) {
  const navigate = useNavigate();
  const action = useAction();
  return (
    <div
      className="flex flex-wrap items-center justify-end gap-3"
      role="group"
      aria-label={EVENT_TEXT.deleteTheEvent}
    >
      <span>{event.series ? EVENT_TEXT.itsPageGoesTooAnd : EVENT_TEXT.itsPageAndAddressGo}</span>
      <Fault error={action.error} />
      <Button onClick={onLeave}>{EVENT_TEXT.keepIt}</Button>
      <Button
        kind="mend"
        disabled={action.isBusy}
        onClick={() => void action.run(() => deleteEvent(event.id).then(() => navigate('/')))}
      >
        {EVENT_TEXT.deleteTitle(event.title)}
      </Button>
    </div>
  );
}

function AfterAll({ event }: { event: EventView }) {
  const action = useAction();
  return (
    <div className="grid gap-2 rounded-md border border-edge bg-sunk p-4">
      <p>{event.notice ? EVENT_TEXT.cancelledAndSays(event.notice) : EVENT_TEXT.cancelledSaysSo}</p>
      <Fault error={action.error} />
      <Button
        className="justify-self-start"
        disabled={action.isBusy}
        onClick={() => void action.run(() => reinstateEvent(event))}
      >
        {EVENT_TEXT.reinstateIt}
      </Button>
    </div>
  );
}
