import { type FormEvent, useState } from 'react';
import { mutate } from 'swr';
import type { SourceView } from '@heliphon/contracts/sources';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import { deleteSource, editSource } from '../../data/sources.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { fieldSentence } from '../../words/problems.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** What a source is called, and by which ways an encoder may come. */
export function SourceSettings({ source }: { source: SourceView }) {
  const [name, setName] = useState(source.name);
  const [error, setError] = useState<unknown>(null);
  const rename = (event: FormEvent): void => {
    event.preventDefault();
    setError(null);
    editSource(source, { name }).then(
      () => toldWithUndo(SOURCES_TEXT.theSourceHasBeenRenamed, source.id),
      setError,
    );
  };
  return (
    <form onSubmit={rename} className="grid gap-3 border-t border-line pt-3">
      <div className="flex items-end gap-2">
        <div className="flex-1">
          <TextField
            label={SOURCES_TEXT.nameOfTheSource}
            value={name}
            onChange={(typed) => setName(typed.target.value)}
            error={fieldSentence(error, 'name')}
          />
        </div>
        <Button type="submit" disabled={name === source.name}>
          {SOURCES_TEXT.rename}
        </Button>
      </div>
      {source.kind === 'device' && (
        <label className="flex items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            checked={source.hasPassword}
            onChange={(typed) =>
              void editSource(source, { hasPassword: typed.target.checked }).catch(setError)
            }
          />
          {SOURCES_TEXT.encodersAlsoNeedAPassword}
        </label>
      )}
      {source.kind === 'device' && <SrtSettings source={source} onFault={setError} />}
      <Button
        kind="quiet"
        className="justify-self-start"
        onClick={() => {
          deleteSource(source).then(
            () => toldWithUndo(SOURCES_TEXT.isDeleted(source.name), source.id),
            setError,
          );
        }}
      >
        {SOURCES_TEXT.deleteTheSource}
      </Button>
      <Fault error={error} exceptAt={['name']} />
    </form>
  );
}

/** Whether an encoder may also come over SRT, and how long it may wait for what was lost on the way. */
function SrtSettings({ source, onFault }: { source: SourceView; onFault: (error: unknown) => void }) {
  const { latencyMs } = source.srt ?? { latencyMs: SRT_LIMITS.latencyMs.usual };
  const save = (srt: { latencyMs: number } | null): void => {
    editSource(source, { srt }).then(() => mutate(`/api/sources/${source.id}/key`), onFault);
  };
  return (
    <>
      <label className="flex items-center gap-2.5">
        <input
          type="checkbox"
          className="size-5 accent-[var(--pine)]"
          checked={source.srt !== null}
          onChange={(typed) => save(typed.target.checked ? { latencyMs } : null)}
        />
        {SOURCES_TEXT.encodersCanUseSrt}
      </label>
      {source.srt && (
        <SelectField
          label={SOURCES_TEXT.srtLatency}
          value={String(latencyMs)}
          onChange={(chosen) => save({ latencyMs: Number(chosen) })}
          options={LATENCIES_MS.map((ms) => ({ value: String(ms), label: `${ms} ms` }))}
          hint={SOURCES_TEXT.atLeastFourTimesThe}
        />
      )}
    </>
  );
}

const LATENCIES_MS = [80, 120, 200, 400, 800, 1500, 4000];
