import { type FormEvent, useState } from 'react';
import { mutate } from 'swr';
import type { GuestLink } from '@heliphon/contracts/lines';
import type { SourceView } from '@heliphon/contracts/sources';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { inviteGuest, withdrawGuest } from '../../data/commands.js';
import { useGuestLinks, useUpcoming, useZone } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { QrCode } from '../../ui/QrCode.js';
import { Failed, Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';

const STATE_WORDS: Readonly<Record<GuestLink['state'], string>> = {
  waiting: 'not opened yet',
  opened: 'opened',
  over: 'its event is over',
  withdrawn: 'taken back',
};

/** Links by which somebody elsewhere sends a picture from a browser, without an account. */
export function GuestLinks({ source }: { source: SourceView }) {
  const { data, error, mutate: again } = useGuestLinks(source.id);
  const [isInviting, setInviting] = useState(false);
  return (
    <section aria-label="Guests" className="grid gap-3 border-t border-line pt-3">
      <div className="flex items-center gap-3">
        <h3 className="flex-1 font-sans text-[15px] font-semibold">Guests</h3>
        {!isInviting && <Button onClick={() => setInviting(true)}>Invite a guest</Button>}
      </div>
      {error && <Failed error={error} onRetry={() => void again()} />}
      {data?.items.length === 0 && !isInviting && (
        <p className="text-ink-soft">
          Somebody elsewhere can send by a link: from a telephone or a laptop, without an account.
        </p>
      )}
      {isInviting && <Invite source={source} onDone={() => setInviting(false)} />}
      <ul className="grid gap-3">
        {data?.items.map((guest) => (
          <Guest key={guest.id} guest={guest} />
        ))}
      </ul>
    </section>
  );
}

function Invite({ source, onDone }: { source: SourceView; onDone: () => void }) {
  const zone = useZone();
  const { data: events } = useUpcoming(source.id);
  const [name, setName] = useState('');
  const [eventId, setEventId] = useState('');
  const { isBusy, error, run } = useAction();
  const choices = events?.items ?? [];
  const chosen = eventId || choices[0]?.id || '';
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void run(async () => {
      await inviteGuest(source.id, { name, eventId: chosen });
      await mutate(guestsOf(source.id));
      onDone();
    });
  };
  if (events && choices.length === 0) {
    return (
      <p className="flex items-center gap-3">
        <span className="flex-1">
          No event with this source is coming. Choose it for an event first; a guest’s link belongs to an
          event.
        </span>
        <Button onClick={onDone}>Leave it</Button>
      </p>
    );
  }
  return (
    <form onSubmit={submit} className="grid gap-3 rounded-md border border-edge bg-surface p-3">
      <TextField
        label="Who is invited"
        needed
        autoFocus
        value={name}
        maxLength={60}
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(error, 'name')}
      />
      <SelectField
        label="To which event"
        value={chosen}
        onChange={setEventId}
        options={choices.map(({ id, title, startsAtMs }) => ({
          value: id,
          label: `${title}, ${dayAndTime(startsAtMs, zone)}`,
        }))}
      />
      <Fault error={error} exceptAt={['name']} />
      <div className="flex gap-2">
        <Button kind="main" type="submit" disabled={isBusy}>
          Make the link
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}

function Guest({ guest }: { guest: GuestLink }) {
  const [isCodeShown, setCodeShown] = useState(false);
  const { error, run } = useAction();
  const isOpen = guest.state === 'waiting' || guest.state === 'opened';
  const withdraw = (): void =>
    void run(async () => {
      await withdrawGuest(guest.id);
      await mutate(guestsOf(guest.sourceId));
      toldWithUndo(`${guest.name}’s link is taken back.`, guest.sourceId);
    });
  return (
    <li className="grid gap-2 border-t border-line pt-2" aria-label={guest.name}>
      <p>
        <b>{guest.name}</b> for {guest.event.title}: {STATE_WORDS[guest.state]}
      </p>
      {isOpen && (
        <>
          <CopyField label="Link" value={guest.url} what={`the link of ${guest.name}`} />
          <div className="flex flex-wrap gap-2">
            <Button aria-expanded={isCodeShown} onClick={() => setCodeShown(!isCodeShown)}>
              {isCodeShown ? 'Put the code away' : 'Show it as a code'}
            </Button>
            <Button kind="quiet" onClick={withdraw}>
              Take the link back
            </Button>
          </div>
          {isCodeShown && <QrCode value={guest.url} label={`Code of the link of ${guest.name}`} />}
        </>
      )}
      <Fault error={error} />
    </li>
  );
}

const guestsOf = (sourceId: string): string => `/api/sources/${sourceId}/guests?limit=50`;
