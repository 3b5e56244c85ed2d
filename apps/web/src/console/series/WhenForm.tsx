import { useState } from 'react';
import type { EditSeries, SeriesView } from '@heliphon/contracts/series';
import { TextField } from '../../ui/Field.js';
import { fieldSentence } from '../../words/problems.js';
import { PreviewDates } from './PreviewDates.js';
import { type Repeat, repeatOf, ruleOf } from './repeat.js';
import { RepeatFields } from './RepeatFields.js';
import { usePreview } from './usePreview.js';

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
      <h2 className="font-sans text-[15px] font-semibold">When</h2>
      <RepeatFields
        firstDate={value.firstDate}
        repeat={repeat}
        onChange={(kind) => set({ ...repeat, kind })}
        onEdit={(change) => set({ ...repeat, ...change })}
        error={fieldSentence(told, 'rule')}
      />
      <div className="grid grid-cols-3 gap-3">
        <TextField
          label="Counts from"
          type="date"
          value={value.firstDate}
          error={fieldSentence(told, 'firstDate')}
          onChange={(typed) => typed.target.value && onChange({ firstDate: typed.target.value })}
        />
        <TextField
          label="Starts"
          type="time"
          value={value.timeOfDay}
          error={fieldSentence(told, 'timeOfDay')}
          onChange={(typed) => typed.target.value && onChange({ timeOfDay: typed.target.value })}
        />
        <TextField
          label="Lasts, min"
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
  const say = (count: number, one: string, many: string): string | null =>
    count === 0 ? null : count === 1 ? `1 date ${one}` : `${count} dates ${many}`;
  const parts = [
    say(shown.moved, 'gets another time', 'get another time'),
    say(shown.made, 'comes into being', 'come into being'),
    say(shown.removed, 'goes', 'go'),
    say(shown.left, 'that somebody changed stays as it is', 'that somebody changed stay as they are'),
  ].filter(Boolean);
  return parts.length > 0 ? `When this is saved: ${parts.join(', ')}.` : 'No planned date changes.';
}
