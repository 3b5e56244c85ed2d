import { usualRules } from '@heliphon/core/schedule/rule-choices';
import { SelectField, TextField } from '../../ui/Field.js';
import { repeatWords } from '../../words/repeats.js';
import type { Repeat } from './repeat.js';

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
          label="Repeats"
          value={repeat ? (isGone ? usual[0]!.value : repeat.kind) : ''}
          error={repeat && repeat.kind !== 'own' ? error : null}
          onChange={onChange}
          options={[
            ...(canBeOnce ? [{ value: '', label: 'once' }] : []),
            ...usual,
            { value: 'own', label: 'by a rule of our own' },
          ]}
        />
        {repeat && (
          <SelectField
            label="Ends"
            value={repeat.end}
            onChange={(end) => onEdit({ end: end as Repeat['end'] })}
            options={[
              { value: 'never', label: 'never' },
              { value: 'day', label: 'after a day' },
              { value: 'count', label: 'after so many dates' },
            ]}
          />
        )}
      </div>
      {repeat?.kind === 'own' && (
        <TextField
          label="Rule"
          needed
          value={repeat.own}
          error={error}
          hint="As calendar programs write it (RFC 5545), for instance FREQ=MONTHLY;BYDAY=1SU,3SU"
          maxLength={300}
          onChange={(typed) => onEdit({ own: typed.target.value })}
        />
      )}
      {repeat?.end === 'day' && (
        <TextField
          label="Last day"
          type="date"
          value={repeat.untilDate}
          onChange={(typed) => typed.target.value && onEdit({ untilDate: typed.target.value })}
        />
      )}
      {repeat?.end === 'count' && (
        <TextField
          label="How many dates"
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
