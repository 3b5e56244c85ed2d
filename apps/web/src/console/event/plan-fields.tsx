import { useChannels } from '../../data/channels.js';
import { useSources } from '../../data/sources.js';
import { SelectField } from '../../ui/Field.js';
import { EVENT_TEXT } from '../../words/console/event.js';

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

interface StandbyChoiceProps {
  readonly standbySourceId: string | null;
  /** The first, which cannot stand by for itself. */
  readonly sourceId: string | null;
  readonly error: string | null;
  readonly onChange: (standbySourceId: string | null) => void;
}

/** A second source that takes over when the first has gone. */
export function StandbyChoice({ standbySourceId, sourceId, error, onChange }: StandbyChoiceProps) {
  const { data: sources } = useSources();
  const others = (sources?.items ?? []).filter(({ id, kind }) => id !== sourceId && kind !== 'file');
  return (
    <SelectField
      label={EVENT_TEXT.secondSource}
      value={standbySourceId ?? ''}
      error={error}
      onChange={(chosen) => onChange(chosen || null)}
      options={[
        { value: '', label: EVENT_TEXT.noSecondSource },
        ...others.map(({ id, name }) => ({ value: id, label: name })),
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
