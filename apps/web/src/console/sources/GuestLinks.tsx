import { type FormEvent, useState } from 'react';
import { mutate } from 'swr';
import type { GuestLink } from '@heliphon/contracts/send-tokens';
import type { SourceView } from '@heliphon/contracts/sources';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { inviteGuest, withdrawGuest, useGuestLinks } from '../../data/sources.js';
import { useUpcoming } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { QrCode } from '../../ui/QrCode.js';
import { Failed, Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { Sentence } from '../../ui/Sentence.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

const STATE_WORDS: Readonly<Record<GuestLink['state'], string>> = {
  waiting: SOURCES_TEXT.notOpenedYet,
  opened: 'opened',
  over: SOURCES_TEXT.itsEventHasFinished,
  withdrawn: 'withdrawn',
};

/** Links by which somebody elsewhere sends a picture from a browser, without an account. */
export function GuestLinks({ source }: { source: SourceView }) {
  const { data, error, mutate: again } = useGuestLinks(source.id);
  const [isInviting, setInviting] = useState(false);
  return (
    <section aria-label={SOURCES_TEXT.guests} className="grid gap-3 border-t border-line pt-3">
      <div className="flex items-center gap-3">
        <h3 className="flex-1 font-sans text-[15px] font-semibold">{SOURCES_TEXT.guests}</h3>
        {!isInviting && <Button onClick={() => setInviting(true)}>{SOURCES_TEXT.inviteAGuest}</Button>}
      </div>
      {error && <Failed error={error} onRetry={() => void again()} />}
      {data?.items.length === 0 && !isInviting && (
        <p className="text-ink-soft">{SOURCES_TEXT.inviteSomebodyToSendFrom}</p>
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
        <span className="flex-1">{SOURCES_TEXT.noUpcomingEventUsesThis}</span>
        <Button onClick={onDone}>{SOURCES_TEXT.cancel}</Button>
      </p>
    );
  }
  return (
    <form onSubmit={submit} className="grid gap-3 rounded-md border border-edge bg-surface p-3">
      <TextField
        label={SOURCES_TEXT.guestsName}
        needed
        autoFocus
        value={name}
        maxLength={60}
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(error, 'name')}
      />
      <SelectField
        label={SOURCES_TEXT.toWhichEvent}
        value={chosen}
        onChange={setEventId}
        options={choices.map(({ id, title, startsAtMs }) => ({
          value: id,
          label: `${title}, ${dayAndTime(startsAtMs, zone)}`,
        }))}
      />
      <Fault error={error} exceptAt={['name']} />
      <div className="flex gap-2">
        <Button kind="main" type="submit" disabled={isBusy || !chosen}>
          {SOURCES_TEXT.makeTheLink}
        </Button>
        <Button onClick={onDone}>{SOURCES_TEXT.cancel}</Button>
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
      toldWithUndo(SOURCES_TEXT.sLinkHasBeenWithdrawn(guest.name), guest.sourceId);
    });
  return (
    <li className="grid gap-2 border-t border-line pt-2" aria-label={guest.name}>
      <p>
        <Sentence
          words={SOURCES_TEXT.guestFor}
          guest={<b>{guest.name}</b>}
          event={guest.event.title}
          state={STATE_WORDS[guest.state]}
        />
      </p>
      {isOpen && (
        <>
          <CopyField label={SOURCES_TEXT.link} value={guest.url} what={SOURCES_TEXT.theLinkOf(guest.name)} />
          <div className="flex flex-wrap gap-2">
            <Button aria-expanded={isCodeShown} onClick={() => setCodeShown(!isCodeShown)}>
              {isCodeShown ? SOURCES_TEXT.hideTheCode : SOURCES_TEXT.showAsAQrCode}
            </Button>
            <Button kind="quiet" onClick={withdraw}>
              {SOURCES_TEXT.withdrawTheLink}
            </Button>
          </div>
          {isCodeShown && <QrCode value={guest.url} label={SOURCES_TEXT.codeOfTheLinkOf(guest.name)} />}
        </>
      )}
      <Fault error={error} />
    </li>
  );
}

const guestsOf = (sourceId: string): string => `/api/sources/${sourceId}/guests?limit=50`;
