import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import type { CountryRule } from '@heliphon/core/access/watch-rules';
import { Button } from '../../ui/Button.js';
import { CheckField, SelectField } from '../../ui/Field.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';
import { COUNTRIES, countryName } from './country-names.js';

type Kind = CountryRule['kind'] | 'everywhere';
const KINDS: readonly { readonly value: Kind; readonly label: string }[] = [
  { value: 'everywhere', label: WATCHING_TEXT.everyCountry },
  { value: 'only', label: WATCHING_TEXT.onlyIn },
  { value: 'not', label: WATCHING_TEXT.notIn },
];

interface CountryRuleFieldProps {
  readonly value: CountryRule | null;
  readonly origin: ReactNode;
  readonly onChange: (rule: CountryRule | null) => void;
}

/** In which countries an event may be watched. */
export function CountryRuleField({ value, origin, onChange }: CountryRuleFieldProps) {
  const choose = (chosen: string): void => {
    const kind = KINDS.find((known) => known.value === chosen)!.value;
    const { codes = [], admitsUnknown = true } = value ?? {};
    onChange(kind === 'everywhere' ? null : { kind, codes, admitsUnknown });
  };
  return (
    <div className="grid gap-3">
      <SelectField
        label={WATCHING_TEXT.countries}
        value={value?.kind ?? 'everywhere'}
        onChange={choose}
        options={KINDS}
        hint={
          <>
            {value && `${WATCHING_TEXT.countriesHint} `}
            {origin}
          </>
        }
      />
      {value && (
        <>
          <ul aria-label={WATCHING_TEXT.chosenCountries} className="flex flex-wrap gap-2">
            {value.codes.map((code) => (
              <li key={code}>
                <Button
                  aria-label={WATCHING_TEXT.removeCountry(countryName(code))}
                  onClick={() => onChange({ ...value, codes: value.codes.filter((known) => known !== code) })}
                >
                  {countryName(code)} <X size={16} aria-hidden="true" />
                </Button>
              </li>
            ))}
          </ul>
          <SelectField
            label={WATCHING_TEXT.addCountry}
            value=""
            error={value.codes.length === 0 ? WATCHING_TEXT.chooseOne : null}
            onChange={(code) => code && onChange({ ...value, codes: [...value.codes, code] })}
            options={[
              { value: '', label: '…' },
              ...COUNTRIES.filter(({ code }) => !value.codes.includes(code)).map(({ code, name }) => ({
                value: code,
                label: name,
              })),
            ]}
          />
          <CheckField
            label={WATCHING_TEXT.admitsUnknown}
            value={value.admitsUnknown}
            onChange={(admitsUnknown) => onChange({ ...value, admitsUnknown })}
          />
        </>
      )}
    </div>
  );
}
