import { useChannels } from '../../data/channels.js';
import { useDestinations } from '../../data/destinations.js';
import { useSources } from '../../data/sources.js';
import { SelectField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { EVENT_TEXT } from '../../words/console/event.js';

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
      <h2 className="font-sans text-[15px] font-semibold">{EVENT_TEXT.whereItGoes}</h2>
      <div className="flex flex-wrap gap-2">
        <span className="flex min-h-9 items-center gap-2 rounded-md border border-pine bg-pine-wash px-3">
          <Mark name="passed" /> {EVENT_TEXT.ourWebsiteAlways}
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
      label={EVENT_TEXT.whereThePictureComesFrom}
      needed
      value={sourceId ?? ''}
      error={error}
      onChange={(chosen) => onChange(chosen || null)}
      options={[
        { value: '', label: EVENT_TEXT.noneYet },
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
      label={EVENT_TEXT.channel}
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
