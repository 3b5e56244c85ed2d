import {
  EVENT_SETTINGS,
  type EventSettings,
  isFlag,
  isNumber,
  SETTING_NAMES,
  type SettingName,
} from '@heliphon/core/schedule/event-settings';
import { TextField } from '../../ui/Field.js';
import { SizesField } from './SizesField.js';
import { SETTING_WORDS } from '../../words/event-settings.js';

interface SettingFieldsProps {
  readonly beside: 'times' | 'viewers' | 'sources' | 'sizes';
  readonly value: EventSettings;
  readonly isFixed?: (name: SettingName) => boolean;
  readonly onChange: (change: Partial<EventSettings>) => void;
  readonly error: (field: string) => string | null;
}

/** The settings of an event or series that stand beside its times, its sources, or what viewers may do. */
export function SettingFields({ beside, value, isFixed = () => false, onChange, error }: SettingFieldsProps) {
  return SETTING_NAMES.filter((name) => SETTING_WORDS[name].beside === beside).map((name) => {
    const { label } = SETTING_WORDS[name];
    if (isFlag(name))
      return (
        <label key={name} className="flex min-h-10 items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            disabled={isFixed(name)}
            checked={value[name]}
            onChange={(typed) => onChange({ [name]: typed.target.checked })}
          />
          <span className="font-semibold">{label}</span>
        </label>
      );
    if (!isNumber(name))
      return (
        <SizesField
          key={name}
          label={label}
          value={value[name]}
          disabled={isFixed(name)}
          error={error(name)}
          onChange={(renditions) => onChange({ renditions })}
        />
      );
    return (
      <TextField
        key={name}
        label={label}
        type="number"
        min={EVENT_SETTINGS[name].least}
        max={EVENT_SETTINGS[name].most}
        step={EVENT_SETTINGS[name].step}
        disabled={isFixed(name)}
        value={value[name]}
        error={error(name)}
        onChange={(typed) => typed.target.value !== '' && onChange({ [name]: typed.target.valueAsNumber })}
      />
    );
  });
}
