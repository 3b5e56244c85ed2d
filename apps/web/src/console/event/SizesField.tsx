import {
  FIRST_CHOSEN,
  heightsIn,
  type RenditionSetting,
  withSize,
} from '@heliphon/core/ladder/rendition-setting';
import { RENDITION_HEIGHTS, renditionName } from '@heliphon/core/ladder/renditions';
import type { OwnSize } from '@heliphon/contracts/house';
import { useHouse } from '../../data/house.js';
import { SelectField } from '../../ui/Field.js';
import { SIZES_TEXT } from '../../words/event-settings.js';

interface SizesFieldProps {
  readonly label: string;
  readonly value: RenditionSetting;
  readonly disabled: boolean;
  readonly error: string | null;
  readonly onChange: (value: RenditionSetting) => void;
}

/** Which smaller pictures are made: none, as many as fit, or chosen sizes. */
export function SizesField({ label, value, disabled, error, onChange }: SizesFieldProps) {
  const chosen = heightsIn(value);
  const { data: house } = useHouse();
  return (
    <div className="grid w-full max-w-xl gap-2">
      <SelectField
        label={label}
        hint={SIZES_TEXT.help}
        error={error}
        disabled={disabled}
        value={chosen.length > 0 ? 'chosen' : value}
        options={(['off', 'auto', 'chosen'] as const).map((kind) => ({
          value: kind,
          label: SIZES_TEXT[kind],
        }))}
        onChange={(kind) => onChange(kind === 'chosen' ? FIRST_CHOSEN : kind)}
      />
      {chosen.length > 0 && (
        <div role="group" aria-label={SIZES_TEXT.chosen} className="flex flex-wrap gap-x-6">
          {sizesOffered(chosen, house?.ownSizes ?? []).map((heightPx) => (
            <label key={heightPx} className="flex min-h-10 items-center gap-2.5">
              <input
                type="checkbox"
                className="size-5 accent-[var(--pine)]"
                disabled={disabled}
                checked={chosen.includes(heightPx)}
                onChange={(typed) => onChange(withSize(value, heightPx, typed.target.checked))}
              />
              {renditionName(heightPx)}
            </label>
          ))}
        </div>
      )}
    </div>
  );
}

/** The usual ones, those of the house, and what was chosen beside them. */
const sizesOffered = (chosen: readonly number[], own: readonly OwnSize[]): readonly number[] =>
  [...new Set([...RENDITION_HEIGHTS, ...own.map(({ heightPx }) => heightPx), ...chosen])].sort(
    (one, other) => other - one,
  );
