import type { VisitCounter } from '@heliphon/contracts/house';
import { CheckField, TextField } from '../../ui/Field.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

interface CounterFieldsProps {
  readonly value: VisitCounter | null;
  readonly errorAt: (path: string) => string | null;
  readonly onChange: (counter: VisitCounter | null) => void;
}

const EMPTY: VisitCounter = { scriptUrl: '', attribute: 'data-site', siteId: '' };

/** A counter of visits that the house runs itself. */
export function CounterFields({ value, errorAt, onChange }: CounterFieldsProps) {
  return (
    <section aria-label={HOUSE_TEXT.counting} className="grid gap-3">
      <CheckField
        label={HOUSE_TEXT.countsVisits}
        value={value !== null}
        onChange={(counts) => onChange(counts ? EMPTY : null)}
      />
      <p className="max-w-[60ch] text-[13px] text-ink-soft">{HOUSE_TEXT.countingHint}</p>
      {value && (
        <div className="grid gap-4 sm:grid-cols-3">
          <TextField
            label={HOUSE_TEXT.counterScript}
            needed
            placeholder="https://"
            value={value.scriptUrl}
            error={errorAt('visitCounter.scriptUrl')}
            onChange={({ target }) => onChange({ ...value, scriptUrl: target.value })}
          />
          <TextField
            label={HOUSE_TEXT.counterAttribute}
            needed
            value={value.attribute}
            error={errorAt('visitCounter.attribute')}
            onChange={({ target }) => onChange({ ...value, attribute: target.value })}
          />
          <TextField
            label={HOUSE_TEXT.counterSite}
            needed
            value={value.siteId}
            error={errorAt('visitCounter.siteId')}
            onChange={({ target }) => onChange({ ...value, siteId: target.value })}
          />
        </div>
      )}
    </section>
  );
}
