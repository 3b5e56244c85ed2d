import { type FormEvent, useState } from 'react';
import { DEVICE, type Shown, type SourceView } from '@heliphon/contracts/sources';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { addSource } from '../../data/commands.js';
import { useFilms, useSeriesList, useUpcoming, useZone } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { fieldSentence } from '../../words/problems.js';

const KINDS: readonly { readonly value: Shown['kind']; readonly label: string }[] = [
  { value: 'device', label: 'An encoder, a camera or a box that sends to us' },
  { value: 'programme', label: 'Another event’s programme' },
  { value: 'file', label: 'A film from the files, played once' },
];

/** A new source: what it is called, and what it shows. */
export function AddSource({ onDone }: { onDone: (added: SourceView | null) => void }) {
  const [name, setName] = useState('');
  const [hasPassword, setHasPassword] = useState(false);
  const [shown, setShown] = useState<Shown>(DEVICE);
  const [error, setError] = useState<unknown>(null);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    setError(null);
    addSource({ ...shown, name, hasPassword, nodeId: null }).then(onDone, setError);
  };
  return (
    <form onSubmit={submit} className="mb-4 grid max-w-xl gap-3 border-t border-line py-4">
      <TextField
        label="Name of the source"
        needed
        value={name}
        autoFocus
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(error, 'name')}
        hint="What your team calls it, for instance Chapel desk"
      />
      <SelectField
        label="Where its picture comes from"
        value={shown.kind}
        options={KINDS}
        onChange={(kind) => setShown({ ...DEVICE, kind: kind as Shown['kind'] })}
      />
      {shown.kind === 'device' && (
        <label className="flex items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            checked={hasPassword}
            onChange={(typed) => setHasPassword(typed.target.checked)}
          />
          Encoders need a name and password too
        </label>
      )}
      {shown.kind === 'programme' && (
        <ProgrammeChoice shown={shown} onChange={setShown} error={fieldSentence(error, 'followsEventId')} />
      )}
      {shown.kind === 'file' && (
        <FilmChoice shown={shown} onChange={setShown} error={fieldSentence(error, 'fileId')} />
      )}
      <Fault error={error} exceptAt={['name', 'followsEventId', 'fileId']} />
      <div className="flex gap-3">
        <Button kind="main" type="submit">
          Add the source
        </Button>
        <Button onClick={() => onDone(null)}>Leave it</Button>
      </div>
    </form>
  );
}

interface ChoiceProps {
  readonly shown: Shown;
  readonly onChange: (shown: Shown) => void;
  readonly error: string | null;
}

/** One event, or whatever is on in a series: then it needs nothing from week to week. */
function ProgrammeChoice({ shown, onChange, error }: ChoiceProps) {
  const zone = useZone();
  const { data: series } = useSeriesList();
  const { data: events } = useUpcoming();
  const choose = (value: string): void => {
    const [kind, id = null] = value.split(' ');
    onChange({
      ...shown,
      followsSeriesId: kind === 'series' ? id : null,
      followsEventId: kind === 'event' ? id : null,
    });
  };
  const value = shown.followsSeriesId
    ? `series ${shown.followsSeriesId}`
    : shown.followsEventId
      ? `event ${shown.followsEventId}`
      : '';
  return (
    <SelectField
      label="Whose programme"
      needed
      value={value}
      onChange={choose}
      error={error}
      hint="What viewers get there, and only while it is on air"
      options={[
        { value: '', label: 'Choose …' },
        ...(series?.items ?? []).map(({ id, title }) => ({
          value: `series ${id}`,
          label: `${title}, whichever date is on`,
        })),
        ...(events?.items ?? []).map(({ id, title, startsAtMs }) => ({
          value: `event ${id}`,
          label: `${title}, ${dayAndTime(startsAtMs, zone)}`,
        })),
      ]}
    />
  );
}

function FilmChoice({ shown, onChange, error }: ChoiceProps) {
  const { data } = useFilms();
  return (
    <SelectField
      label="Which film"
      needed
      value={shown.fileId ?? ''}
      onChange={(fileId) => onChange({ ...shown, fileId: fileId || null })}
      error={error}
      hint="An event with this source plays it from its start, and ends with it"
      options={[
        { value: '', label: 'Choose …' },
        ...(data?.items ?? []).map(({ id, name }) => ({ value: id, label: name })),
      ]}
    />
  );
}
