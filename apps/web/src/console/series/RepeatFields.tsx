import { usualRules } from '@heliphon/core/schedule/rule-choices';
import { SelectField, TextField } from '../../ui/Field.js';
import { repeatWords } from '../../words/repeats.js';
import type { Repeat } from './repeat.js';
import { SERIES_TEXT } from '../../words/console/series.js';

interface RepeatFieldsProps {
  readonly firstDate: string;
  /** `null`: it does not repeat. */
  readonly repeat: Repeat | null;
  readonly onChange: (kind: string) => void;
  readonly onEdit: (change: Partial<Repeat>) => void;
  readonly canBeOnce?: boolean;
  readonly error: string | null;
}

/** Which days, and until when. */
export function RepeatFields({
  firstDate,
  repeat,
  onChange,
  onEdit,
  canBeOnce = false,
  error,
}: RepeatFieldsProps) {
  const usual = usualRules(firstDate).map(({ kind, rule }) => ({ value: kind, label: repeatWords(rule) }));
  const isGone = repeat && repeat.kind !== 'own' && !usual.some(({ value }) => value === repeat.kind);
  return (
    <div className="grid gap-3">
      <div className="grid grid-cols-2 gap-3">
        <SelectField
          label={SERIES_TEXT.repeats}
          value={repeat ? (isGone ? usual[0]!.value : repeat.kind) : ''}
          error={repeat && repeat.kind !== 'own' ? error : null}
          onChange={onChange}
          options={[
            ...(canBeOnce ? [{ value: '', label: 'once' }] : []),
            ...usual,
            { value: 'own', label: SERIES_TEXT.byACustomRule },
          ]}
        />
        {repeat && (
          <SelectField
            label={SERIES_TEXT.ends}
            value={repeat.end}
            onChange={(end) => onEdit({ end: end as Repeat['end'] })}
            options={[
              { value: 'never', label: 'never' },
              { value: 'day', label: SERIES_TEXT.afterADay },
              { value: 'count', label: SERIES_TEXT.afterANumberOfDates },
            ]}
          />
        )}
      </div>
      {repeat?.kind === 'own' && (
        <TextField
          label={SERIES_TEXT.rule}
          needed
          value={repeat.own}
          error={error}
          hint={SERIES_TEXT.asInCalendarFilesRfc}
          maxLength={300}
          onChange={(typed) => onEdit({ own: typed.target.value })}
        />
      )}
      {repeat?.end === 'day' && (
        <TextField
          label={SERIES_TEXT.lastDay}
          type="date"
          value={repeat.untilDate}
          onChange={(typed) => typed.target.value && onEdit({ untilDate: typed.target.value })}
        />
      )}
      {repeat?.end === 'count' && (
        <TextField
          label={SERIES_TEXT.howManyDates}
          type="number"
          min={1}
          max={1000}
          value={repeat.count}
          onChange={(typed) => typed.target.value && onEdit({ count: typed.target.valueAsNumber })}
        />
      )}
    </div>
  );
}
