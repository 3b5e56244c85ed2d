import { Clapperboard } from 'lucide-react';
import { useState } from 'react';
import { duration } from '@heliphon/contracts/time-words';
import { useFile } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { ChooseFile } from '../files/ChooseFile.js';
import { FileLook } from '../files/FileRow.js';

interface FilmFieldProps {
  readonly filmId: string | null;
  readonly disabled: boolean;
  readonly error: string | null;
  readonly onChange: (filmId: string | null) => void;
}

/** A film of the house that the programme begins with; it ends as the event starts. */
export function FilmField({ filmId, disabled, error, onChange }: FilmFieldProps) {
  const { data: film } = useFile(filmId);
  const [isChoosing, setChoosing] = useState(false);
  return (
    <div role="group" aria-label="Film before the start" className="grid content-start gap-1">
      <span className="font-semibold">Film before the start</span>
      <div className="flex flex-wrap items-center gap-3">
        {film && <FileLook file={film} />}
        <p className="min-w-40 flex-1">
          {film ? (
            <>
              <b className="block [overflow-wrap:anywhere]">{film.name}</b>
              <span className="text-[13px] text-ink-soft">
                goes on air {duration(film.facts?.durationMs ?? 0)} before the start, and ends with it
              </span>
            </>
          ) : (
            <span className="text-ink-soft">None: it begins with the picture of its source.</span>
          )}
        </p>
        <Button disabled={disabled} onClick={() => setChoosing(true)}>
          <Clapperboard size={16} strokeWidth={1.75} aria-hidden />
          {film ? 'Choose another film' : 'Choose a film'}
        </Button>
        {film && (
          <Button kind="quiet" disabled={disabled} onClick={() => onChange(null)}>
            Begin without it
          </Button>
        )}
      </div>
      {error && (
        <p role="alert" className="text-[13px] text-rust">
          {error}
        </p>
      )}
      {isChoosing && (
        <ChooseFile
          kind="film"
          onClose={() => setChoosing(false)}
          onChoose={({ id }) => {
            setChoosing(false);
            onChange(id);
          }}
        />
      )}
    </div>
  );
}
