import { useState } from 'react';
import { Link } from 'react-router';
import type { EventView, RehearsalView } from '@heliphon/contracts/events';
import { dayAndTime, duration, timeOfDay } from '@heliphon/contracts/time-words';
import { binRecording, keepRehearsal, moveEvent, startRehearsal } from '../../data/commands.js';
import { useCan, useRehearsals, useZone } from '../../data/house.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Mark } from '../../ui/Mark.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';

/** A private rehearsal this minute: same source and settings, an address of its own, nothing public moves. */
export function Rehearsal({ event }: { event: EventView }) {
  const { data, error, mutate } = useRehearsals(event.id);
  const canStart = useCan('events.move');
  const starting = useAction();
  const running = data?.items.find(({ event: { state } }) => state !== 'kept' && state !== 'cancelled');
  const over = data?.items.filter(({ recording, event: { state } }) => recording && state === 'kept') ?? [];
  return (
    <section aria-label="Private rehearsal" className="grid gap-3 border-t border-line pt-4">
      <h2 className="text-[19px]">Private rehearsal</h2>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="rehearsals" rows={1} />}
      {data && !running && (
        <>
          <p className="text-ink-soft">
            Goes out this minute with the same source and settings, at an address that only you give away.
            Neither the page of the event nor any place notices.
          </p>
          {canStart && (
            <Button
              className="justify-self-start"
              disabled={starting.isBusy || !event.sourceId}
              onClick={() => void starting.run(() => startRehearsal(event.id))}
            >
              Rehearse now, in private
            </Button>
          )}
          <Fault error={starting.error} />
        </>
      )}
      {running && <Running rehearsal={running.event} />}
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
          ? `The rehearsal is on, in private, until ${timeOfDay(rehearsal.stopsAtMs, zone)} at the latest.`
          : 'The rehearsal begins …'}
      </p>
      <CopyField label="Its private address" value={address} what="the private address" />
      <div className="flex flex-wrap gap-3">
        <a className={buttonClass('plain')} href={address} target="_blank" rel="noreferrer">
          See it as viewers would
        </a>
        <Link className={buttonClass('plain')} to={`/events/${rehearsal.id}/air`}>
          Sit down at its desk
        </Link>
        {canMove && rehearsal.state === 'air' && (
          <Button disabled={action.isBusy} onClick={() => void action.run(() => moveEvent(rehearsal, 'end'))}>
            End the rehearsal
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
    toldWithUndo(`The rehearsal of ${when} is in the bin.`, recording.id);
  };
  return (
    <li className="flex flex-wrap items-center gap-3 border-t border-line py-2">
      <span className="flex-1">
        Rehearsed {when}, {duration(recording.durationMs)}
      </span>
      <a className={buttonClass('quiet')} href={`/watch/${event.slug}`} target="_blank" rel="noreferrer">
        Watch it
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
            Keep it
          </Button>
          <Button kind="quiet" disabled={action.isBusy} onClick={() => void action.run(throwAway)}>
            Throw it away
          </Button>
        </>
      )}
      <Fault error={action.error} isSmall />
    </li>
  );
}
