import { useState } from 'react';
import type { EditSeries, SeriesView } from '@heliphon/contracts/series';
import { TextField } from '../../ui/Field.js';
import { fieldSentence } from '../../words/problems.js';
import { PreviewDates } from './PreviewDates.js';
import { type Repeat, repeatOf, ruleOf } from './repeat.js';
import { RepeatFields } from './RepeatFields.js';
import { usePreview } from './usePreview.js';
import { SERIES_TEXT } from '../../words/console/series.js';

interface WhenFormProps {
  readonly series: SeriesView;
  readonly draft: EditSeries;
  readonly error: unknown;
  readonly onChange: (change: EditSeries) => void;
}

/** Which days and when; what a change would make of the dates there are is said before it is saved. */
export function WhenForm({ series, draft, error, onChange }: WhenFormProps) {
  const value = { ...series, ...draft };
  const [edited, setEdited] = useState<Repeat | null>(null);
  const repeat = draft.rule === undefined ? repeatOf(series.parsed, value.firstDate) : edited!;
  const when = {
    rule: value.rule,
    firstDate: value.firstDate,
    timeOfDay: value.timeOfDay,
    lengthMinutes: value.lengthMinutes,
  };
  const isOther = (Object.keys(when) as (keyof typeof when)[]).some((key) => when[key] !== series[key]);
  const preview = usePreview(isOther ? { ...when, seriesId: series.id } : null);
  const set = (next: Repeat): void => {
    setEdited(next);
    onChange({ rule: ruleOf(next, value.firstDate) });
  };
  const told = preview.error ?? error;
  return (
    <div className="grid gap-3">
      <h2 className="font-sans text-[15px] font-semibold">{SERIES_TEXT.when}</h2>
      <RepeatFields
        firstDate={value.firstDate}
        repeat={repeat}
        onChange={(kind) => set({ ...repeat, kind })}
        onEdit={(change) => set({ ...repeat, ...change })}
        error={fieldSentence(told, 'rule')}
      />
      <div className="grid grid-cols-3 gap-3">
        <TextField
          label={SERIES_TEXT.countsFrom}
          type="date"
          value={value.firstDate}
          error={fieldSentence(told, 'firstDate')}
          onChange={(typed) => typed.target.value && onChange({ firstDate: typed.target.value })}
        />
        <TextField
          label={SERIES_TEXT.starts}
          type="time"
          value={value.timeOfDay}
          error={fieldSentence(told, 'timeOfDay')}
          onChange={(typed) => typed.target.value && onChange({ timeOfDay: typed.target.value })}
        />
        <TextField
          label={SERIES_TEXT.lastsMin}
          type="number"
          min={1}
          max={1440}
          value={value.lengthMinutes}
          error={fieldSentence(told, 'lengthMinutes')}
          onChange={(typed) =>
            typed.target.value !== '' && onChange({ lengthMinutes: typed.target.valueAsNumber })
          }
        />
      </div>
      <PreviewDates shown={preview.shown} />
      {preview.shown && <p role="status">{consequence(preview.shown)}</p>}
    </div>
  );
}

/** What saving would make of the dates that are planned already. */
function consequence(shown: { made: number; moved: number; removed: number; left: number }): string {
  const say = (count: number, one: string, many: (count: number) => string): string | null =>
    count === 0 ? null : count === 1 ? one : many(count);
  const parts = [
    say(shown.moved, SERIES_TEXT.oneMoves, SERIES_TEXT.manyMove),
    say(shown.made, SERIES_TEXT.oneIsAdded, SERIES_TEXT.manyAreAdded),
    say(shown.removed, SERIES_TEXT.oneGoes, SERIES_TEXT.manyGo),
    say(shown.left, SERIES_TEXT.oneStays, SERIES_TEXT.manyStay),
  ].filter(Boolean);
  return parts.length > 0 ? SERIES_TEXT.whenSaved(parts.join(', ')) : SERIES_TEXT.noPlannedDatesChange;
}
