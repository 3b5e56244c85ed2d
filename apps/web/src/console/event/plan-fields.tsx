import { EVENT_LIMITS, type EditEvent } from '@heliphon/contracts/events';
import { useChannels, useDestinations, useSources } from '../../data/house.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';

type MinuteField = 'doorsMinutes' | 'overrunMinutes' | 'deadAirMinutes' | 'rewindMinutes';

interface MinutesProps {
  readonly label: string;
  readonly field: MinuteField;
  readonly value: number;
  readonly disabled: boolean;
  readonly change: (change: Pick<EditEvent, MinuteField>) => void;
  readonly error: (field: MinuteField) => string | null;
}

/** So many minutes of something. */
export function Minutes({ label, field, value, disabled, change, error }: MinutesProps) {
  return (
    <TextField
      label={label}
      type="number"
      min={0}
      max={EVENT_LIMITS[field]}
      disabled={disabled}
      value={value}
      error={error(field)}
      onChange={(typed) => typed.target.value !== '' && change({ [field]: typed.target.valueAsNumber })}
    />
  );
}

/** Which places the programme goes to, besides our website. */
export function PlaceChoice({
  chosen,
  onChange,
}: {
  chosen: readonly string[];
  onChange: (ids: string[]) => void;
}) {
  const { data } = useDestinations();
  const places = data?.items ?? [];
  return (
    <div className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">Where it goes</h2>
      <div className="flex flex-wrap gap-2">
        <span className="flex min-h-9 items-center gap-2 rounded-md border border-pine bg-pine-wash px-3">
          <Mark name="passed" /> Our website, always
        </span>
        {places.map((place) => {
          const isChosen = chosen.includes(place.id);
          return (
            <button
              key={place.id}
              type="button"
              aria-pressed={isChosen}
              onClick={() =>
                onChange(isChosen ? chosen.filter((id) => id !== place.id) : [...chosen, place.id])
              }
              className={`flex min-h-9 items-center gap-2 rounded-md border px-3 hover:bg-hover ${isChosen ? 'border-pine bg-pine-wash' : 'border-edge bg-surface'}`}
            >
              {isChosen && <Mark name="passed" />} {place.name}
            </button>
          );
        })}
      </div>
    </div>
  );
}

interface SourceChoiceProps {
  readonly sourceId: string | null;
  readonly error: string | null;
  readonly onChange: (sourceId: string | null) => void;
}

/** Where the picture comes from. */
export function SourceChoice({ sourceId, error, onChange }: SourceChoiceProps) {
  const { data: sources } = useSources();
  return (
    <SelectField
      label="Where the picture comes from"
      needed
      value={sourceId ?? ''}
      error={error}
      onChange={(chosen) => onChange(chosen || null)}
      options={[
        { value: '', label: 'None yet' },
        ...(sources?.items ?? []).map(({ id, name }) => ({ value: id, label: name })),
      ]}
    />
  );
}

/** On which channel's page it stands; nothing to choose in a house without channels. */
export function ChannelChoice({
  channelId,
  error = null,
  onChange,
}: {
  channelId: string | null;
  error?: string | null;
  onChange: (channelId: string | null) => void;
}) {
  const { data } = useChannels();
  if (!data || data.items.length === 0) return null;
  return (
    <SelectField
      label="Channel"
      value={channelId ?? ''}
      error={error}
      onChange={(chosen) => onChange(chosen || null)}
      options={[
        { value: '', label: 'None' },
        ...data.items.map(({ id, name }) => ({ value: id, label: name })),
      ]}
    />
  );
}

/** Whether there is a chat. */
export const ChatChoice = ({
  isOpen,
  onChange,
}: {
  isOpen: boolean;
  onChange: (isOpen: boolean) => void;
}) => (
  <label className="flex min-h-10 items-center gap-2.5">
    <input
      type="checkbox"
      className="size-5 accent-[var(--pine)]"
      checked={isOpen}
      onChange={(typed) => onChange(typed.target.checked)}
    />
    <span className="font-semibold">People may chat</span>
  </label>
);
