import { SettingFields } from '../event/SettingFields.js';
import { EVENT_LIMITS } from '@heliphon/contracts/events';
import type { EditSeries, SeriesSettings, SeriesView } from '@heliphon/contracts/series';
import { TextArea, TextField } from '../../ui/Field.js';
import { fieldSentence } from '../../words/problems.js';
import { OrderLine } from '../order/OrderLine.js';
import { TurnsFields } from './TurnsFields.js';
import { FilmField } from '../event/FilmField.js';
import { PlaceChoice } from '../event/PlaceChoice.js';
import { ChannelChoice, SourceChoice, StandbyChoice } from '../event/plan-fields.js';
import { SeriesPostings } from './SeriesPostings.js';
import { SERIES_TEXT } from '../../words/console/series.js';

interface SeriesFormProps {
  readonly value: SeriesSettings & Pick<SeriesView, 'id' | 'slug'>;
  readonly error: unknown;
  readonly onChange: (change: EditSeries) => void;
}

/** What every date takes from its series. */
export function SeriesForm({ value, error, onChange }: SeriesFormProps) {
  const wrong = (field: string): string | null => fieldSentence(error, field);
  const settings = { value, error: wrong, onChange };
  return (
    <div className="grid gap-5">
      <TextField
        label={SERIES_TEXT.title}
        needed
        value={value.title}
        error={wrong('title')}
        maxLength={EVENT_LIMITS.titleLength}
        onChange={(typed) => onChange({ title: typed.target.value })}
      />
      <TextArea
        label={SERIES_TEXT.description}
        rows={4}
        value={value.description}
        error={wrong('description')}
        maxLength={EVENT_LIMITS.descriptionLength}
        onChange={(typed) => onChange({ description: typed.target.value })}
      />
      <FilmField
        filmId={value.filmId}
        disabled={false}
        error={wrong('filmId')}
        onChange={(filmId) => onChange({ filmId })}
      />
      <SourceChoice
        sourceId={value.sourceId}
        error={wrong('sourceId')}
        onChange={(sourceId) => onChange({ sourceId })}
      />
      <StandbyChoice
        standbySourceId={value.standbySourceId}
        sourceId={value.sourceId}
        error={wrong('standbySourceId')}
        onChange={(standbySourceId) => onChange({ standbySourceId })}
      />
      {value.standbySourceId !== null && <SettingFields beside="sources" {...settings} />}
      <TextField
        label={SERIES_TEXT.addressOfItsPage}
        value={value.slug}
        error={wrong('slug')}
        hint={`${location.origin}/watch/${value.slug}`}
        onChange={(typed) => onChange({ slug: typed.target.value })}
      />
      <ChannelChoice
        channelId={value.channelId}
        error={wrong('channelId')}
        onChange={(channelId) => onChange({ channelId })}
      />
      <PlaceChoice
        chosen={value.destinationIds}
        onChange={(destinationIds) => onChange({ destinationIds })}
      />
      <SeriesPostings id={value.id} value={value} />
      <OrderLine of="series" id={value.id} />
      <TurnsFields turns={value.duties} error={wrong('duties')} onChange={(duties) => onChange({ duties })} />
      <div className="grid grid-cols-2 gap-3 xl:grid-cols-3">
        <SettingFields beside="times" {...settings} />
      </div>
      <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
        <SettingFields beside="viewers" {...settings} />
        {value.renditions !== 'off' && <SettingFields beside="sizes" {...settings} />}
      </div>
    </div>
  );
}
