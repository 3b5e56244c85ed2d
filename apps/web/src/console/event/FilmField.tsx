import { Clapperboard } from 'lucide-react';
import { duration } from '@heliphon/contracts/time-words';
import { useFile } from '../../data/files.js';
import { FileField } from '../files/FileField.js';
import { FileLook } from '../files/FileRow.js';
import { EVENT_TEXT } from '../../words/console/event.js';

interface FilmFieldProps {
  readonly filmId: string | null;
  readonly disabled: boolean;
  readonly error: string | null;
  readonly onChange: (filmId: string | null) => void;
}

/** A film of the house that the programme begins with; it ends as the event starts. */
export function FilmField({ filmId, ...field }: FilmFieldProps) {
  const { data: film } = useFile(filmId);
  const chosen = film && (
    <>
      <FileLook file={film} />
      <p className="min-w-40 flex-1">
        <b className="block [overflow-wrap:anywhere]">{film.name}</b>
        <span className="text-[13px] text-ink-soft">
          {EVENT_TEXT.goesOnAirBefore(duration(film.facts?.durationMs ?? 0))}
        </span>
      </p>
    </>
  );
  const choose = (
    <>
      <Clapperboard size={16} strokeWidth={1.75} aria-hidden />
      {film ? EVENT_TEXT.chooseAnotherFilm : EVENT_TEXT.chooseAFilm}
    </>
  );
  return (
    <FileField
      label={EVENT_TEXT.openingFilm}
      kind="film"
      chosen={chosen ?? null}
      empty={EVENT_TEXT.noneItStartsWithThe}
      choose={choose}
      remove={EVENT_TEXT.removeTheFilm}
      {...field}
    />
  );
}
