import { type FormEvent, useState } from 'react';
import { DEVICE, type Shown, type SourceView } from '@heliphon/contracts/sources';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { addSource } from '../../data/sources.js';
import { useFilms } from '../../data/files.js';
import { useSeriesList } from '../../data/series.js';
import { useUpcoming } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { fieldSentence } from '../../words/problems.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

const KINDS: readonly { readonly value: Shown['kind']; readonly label: string }[] = [
  { value: 'device', label: SOURCES_TEXT.anEncoderCameraOrBox },
  { value: 'programme', label: SOURCES_TEXT.anotherEvent },
  { value: 'file', label: SOURCES_TEXT.aFilmFromOurFiles },
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
        label={SOURCES_TEXT.nameOfTheSource}
        needed
        value={name}
        autoFocus
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(error, 'name')}
        hint={SOURCES_TEXT.whatYourTeamCallsIt}
      />
      <SelectField
        label={SOURCES_TEXT.whereItsPictureComesFrom}
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
          {SOURCES_TEXT.encodersAlsoNeedAPassword}
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
          {SOURCES_TEXT.addTheSource}
        </Button>
        <Button onClick={() => onDone(null)}>{SOURCES_TEXT.cancel}</Button>
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
      label={SOURCES_TEXT.whoseProgramme}
      needed
      value={value}
      onChange={choose}
      error={error}
      hint={SOURCES_TEXT.whatViewersSeeThereOnly}
      options={[
        { value: '', label: SOURCES_TEXT.choose },
        ...(series?.items ?? []).map(({ id, title }) => ({
          value: `series ${id}`,
          label: SOURCES_TEXT.whicheverDateIsOn(title),
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
      label={SOURCES_TEXT.whichFilm}
      needed
      value={shown.fileId ?? ''}
      onChange={(fileId) => onChange({ ...shown, fileId: fileId || null })}
      error={error}
      hint={SOURCES_TEXT.anEventWithThisSource}
      options={[
        { value: '', label: SOURCES_TEXT.choose },
        ...(data?.items ?? []).map(({ id, name }) => ({ value: id, label: name })),
      ]}
    />
  );
}
