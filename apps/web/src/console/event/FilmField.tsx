import { Clapperboard } from 'lucide-react';
import { useState } from 'react';
import { duration } from '@heliphon/contracts/time-words';
import { useFile } from '../../data/files.js';
import { Button } from '../../ui/Button.js';
import { ChooseFile } from '../files/ChooseFile.js';
import { FileLook } from '../files/FileRow.js';
import { EVENT_TEXT } from '../../words/console/event.js';

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
    <div role="group" aria-label={EVENT_TEXT.openingFilm} className="grid content-start gap-1">
      <span className="font-semibold">{EVENT_TEXT.openingFilm}</span>
      <div className="flex flex-wrap items-center gap-3">
        {film && <FileLook file={film} />}
        <p className="min-w-40 flex-1">
          {film ? (
            <>
              <b className="block [overflow-wrap:anywhere]">{film.name}</b>
              <span className="text-[13px] text-ink-soft">
                {EVENT_TEXT.goesOnAirBefore(duration(film.facts?.durationMs ?? 0))}
              </span>
            </>
          ) : (
            <span className="text-ink-soft">{EVENT_TEXT.noneItStartsWithThe}</span>
          )}
        </p>
        <Button disabled={disabled} onClick={() => setChoosing(true)}>
          <Clapperboard size={16} strokeWidth={1.75} aria-hidden />
          {film ? EVENT_TEXT.chooseAnotherFilm : EVENT_TEXT.chooseAFilm}
        </Button>
        {film && (
          <Button kind="quiet" disabled={disabled} onClick={() => onChange(null)}>
            {EVENT_TEXT.removeTheFilm}
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
