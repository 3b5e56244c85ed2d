import { useState } from 'react';
import { Link } from 'react-router';
import type { EventView, RehearsalView } from '@heliphon/contracts/events';
import { dayAndTime, duration, timeOfDay } from '@heliphon/contracts/time-words';
import { binRecording } from '../../data/recordings.js';
import { keepRehearsal, moveEvent, startRehearsal, useRehearsals } from '../../data/events.js';
import { useCan, useZone } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Mark } from '../../ui/Mark.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { TestSends } from './TestSends.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** A private rehearsal this minute: same source and settings, an address of its own, nothing public moves. */
export function Rehearsal({ event }: { event: EventView }) {
  const { data, error, mutate } = useRehearsals(event.id);
  const canStart = useCan('events.move');
  const starting = useAction();
  const running = data?.items.find(({ event: { state } }) => state !== 'kept' && state !== 'cancelled');
  const over = data?.items.filter(({ recording, event: { state } }) => recording && state === 'kept') ?? [];
  return (
    <section aria-label={EVENT_TEXT.privateRehearsal} className="grid gap-3 border-t border-line pt-4">
      <h2 className="text-[19px]">{EVENT_TEXT.privateRehearsal}</h2>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={EVENT_TEXT.rehearsals} rows={1} />}
      {data && !running && (
        <>
          <p className="text-ink-soft">{EVENT_TEXT.goesOutNowWithThe}</p>
          {canStart && (
            <Button
              className="justify-self-start"
              disabled={starting.isBusy || !event.sourceId}
              onClick={() => void starting.run(() => startRehearsal(event.id))}
            >
              {EVENT_TEXT.rehearseNowInPrivate}
            </Button>
          )}
          <Fault error={starting.error} />
        </>
      )}
      {running && <Running rehearsal={running.event} />}
      {running && <TestSends event={event} rehearsal={running.event} />}
      {over.length > 0 && (
        <ul>
          {over.map((rehearsal) => (
            <Over key={rehearsal.event.id} rehearsal={rehearsal} />
          ))}
        </ul>
      )}
    </section>
  );
}

function Running({ rehearsal }: { rehearsal: EventView }) {
  const zone = useZone();
  const canMove = useCan('events.move');
  const action = useAction();
  const address = `${location.origin}/watch/${rehearsal.slug}`;
  return (
    <div className="grid gap-3" role="status">
      <p className="flex items-center gap-2">
        <Mark name={rehearsal.state} />
        {rehearsal.state === 'air'
          ? EVENT_TEXT.thePrivateRehearsalIsRunning(timeOfDay(rehearsal.stopsAtMs, zone))
          : EVENT_TEXT.startingTheRehearsal}
      </p>
      <CopyField label={EVENT_TEXT.privateAddress} value={address} what={EVENT_TEXT.thePrivateAddress} />
      <div className="flex flex-wrap gap-3">
        <a className={buttonClass('plain')} href={address} target="_blank" rel="noreferrer">
          {EVENT_TEXT.seeItAsViewersWill}
        </a>
        <Link className={buttonClass('plain')} to={`/events/${rehearsal.id}/air`}>
          {EVENT_TEXT.openItsDesk}
        </Link>
        {canMove && rehearsal.state === 'air' && (
          <Button disabled={action.isBusy} onClick={() => void action.run(() => moveEvent(rehearsal, 'end'))}>
            {EVENT_TEXT.endTheRehearsal}
          </Button>
        )}
      </div>
      <Fault error={action.error} />
    </div>
  );
}

/** Watched again, then kept or thrown away. */
function Over({ rehearsal: { event, recording } }: { rehearsal: RehearsalView }) {
  const zone = useZone();
  const canKeep = useCan('recordings.edit');
  const action = useAction();
  const [isKept, setKept] = useState(false);
  if (!recording || isKept) return null;
  const when = dayAndTime(event.startsAtMs, zone);
  const throwAway = async (): Promise<void> => {
    await binRecording(recording.id);
    toldWithUndo(EVENT_TEXT.theRehearsalOfIsIn(when), recording.id);
  };
  return (
    <li className="flex flex-wrap items-center gap-3 border-t border-line py-2">
      <span className="flex-1">{EVENT_TEXT.rehearsed(when, duration(recording.durationMs))}</span>
      <a className={buttonClass('quiet')} href={`/watch/${event.slug}`} target="_blank" rel="noreferrer">
        {EVENT_TEXT.watchIt}
      </a>
      {canKeep && (
        <>
          <Button
            disabled={action.isBusy}
            onClick={() =>
              void action.run(async () => {
                await keepRehearsal(event.id);
                setKept(true);
              })
            }
          >
            {EVENT_TEXT.keepIt}
          </Button>
          <Button kind="quiet" disabled={action.isBusy} onClick={() => void action.run(throwAway)}>
            {EVENT_TEXT.deleteIt}
          </Button>
        </>
      )}
      <Fault error={action.error} isSmall />
    </li>
  );
}
