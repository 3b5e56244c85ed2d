import { settingsUntil, type SettingName } from '@heliphon/core/schedule/event-settings';
import { SettingFields } from './SettingFields.js';
import { localOf } from '@heliphon/core/schedule/civil-time';
import { EVENT_LIMITS, type EditEvent, type EventView } from '@heliphon/contracts/events';
import { useCan } from '../../data/session.js';
import { useSources } from '../../data/sources.js';
import { TextArea, TextField } from '../../ui/Field.js';
import { fieldSentence } from '../../words/problems.js';
import { shownWords } from '../../words/sources.js';
import { OrderLine } from '../order/OrderLine.js';
import { CallOff } from './CallOff.js';
import { ClashRemedy } from './ClashRemedy.js';
import { DutyChoice } from './DutyChoice.js';
import { PlaceChoice } from './PlaceChoice.js';
import { ChannelChoice, SourceChoice, StandbyChoice } from './plan-fields.js';
import { Postings } from './Postings.js';
import { FilmField } from './FilmField.js';
import { PosterField } from './PosterField.js';
import type { Autosave } from './useAutosave.js';
import { WebsitesLine } from '../websites/WebsitesLine.js';
import { WatchingLine } from '../watching/WatchingLine.js';
import { LookLine } from '../look/LookLine.js';
import { SlatePreview } from './SlatePreview.js';
import { WhenBar } from './WhenBar.js';
import { EVENT_TEXT } from '../../words/console/event.js';

interface PlanStageProps {
  readonly event: EventView;
  readonly autosave: Autosave;
}

/** What the event is, when, where its picture comes from, and where it goes. Saves itself. */
export function PlanStage({ event, autosave }: PlanStageProps) {
  const { draft, change, state } = autosave;
  const canEdit = useCan('events.edit');
  const { data: sources } = useSources();
  const value = { ...event, ...draft };
  const error = (field: keyof EditEvent): string | null =>
    state.status === 'refused' ? fieldSentence(state.error, field) : null;
  const local = {
    starts: draft.startsAtLocal ?? localOf(event.startsAtMs, event.zone),
    stops: draft.stopsAtLocal ?? localOf(event.stopsAtMs, event.zone),
  };
  const source = sources?.items.find(({ id }) => id === value.sourceId);
  const isPlanned = event.state === 'planned';
  const isOver = event.state === 'kept' || event.state === 'cancelled';
  const free = settingsUntil(
    'always',
    ...(isOver ? [] : ['end' as const]),
    ...(isPlanned ? ['doors' as const] : []),
  );
  const settings = {
    value,
    error: (field: string) => error(field as keyof EditEvent),
    isFixed: (name: SettingName) => !free.includes(name),
    onChange: change,
  };
  return (
    <fieldset disabled={!canEdit} className="grid min-w-0 gap-5">
      <ClashRemedy event={event} />
      <TextField
        label={EVENT_TEXT.title}
        needed
        value={value.title}
        error={error('title')}
        maxLength={EVENT_LIMITS.titleLength}
        onChange={(typed) => change({ title: typed.target.value })}
      />
      <div className="grid gap-3">
        <h2 className="font-sans text-[15px] font-semibold">{EVENT_TEXT.when}</h2>
        <WhenBar event={event} />
        <div className="grid grid-cols-2 gap-3 xl:grid-cols-[minmax(0,1.9fr)_minmax(0,1.9fr)_minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)]">
          <TextField
            label={EVENT_TEXT.starts}
            type="datetime-local"
            disabled={!isPlanned}
            value={local.starts}
            error={error('startsAtLocal')}
            onChange={(typed) => typed.target.value && change({ startsAtLocal: typed.target.value })}
          />
          <TextField
            label={EVENT_TEXT.stops}
            type="datetime-local"
            disabled={isOver}
            value={local.stops}
            error={error('stopsAtLocal')}
            onChange={(typed) => typed.target.value && change({ stopsAtLocal: typed.target.value })}
          />
          <SettingFields beside="times" {...settings} />
        </div>
      </div>
      <div className="grid gap-5 md:grid-cols-2">
        <TextArea
          label={EVENT_TEXT.description}
          rows={5}
          value={value.description}
          error={error('description')}
          maxLength={EVENT_LIMITS.descriptionLength}
          onChange={(typed) => change({ description: typed.target.value })}
        />
        <PosterField event={event} />
      </div>
      {source?.kind === 'file' ? (
        <p className="text-ink-soft">{EVENT_TEXT.filmIsTheEvent(source.name, shownWords(source))}</p>
      ) : (
        <FilmField
          filmId={value.filmId}
          disabled={!isPlanned}
          error={error('filmId')}
          onChange={(filmId) => change({ filmId })}
        />
      )}
      <div className="grid gap-5 md:grid-cols-2">
        <SourceChoice
          sourceId={value.sourceId}
          error={error('sourceId')}
          onChange={(sourceId) => change({ sourceId })}
        />
        {source?.kind !== 'file' && (
          <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-end gap-3">
            <StandbyChoice
              standbySourceId={value.standbySourceId}
              sourceId={value.sourceId}
              error={error('standbySourceId')}
              onChange={(standbySourceId) => change({ standbySourceId })}
            />
            {value.standbySourceId !== null && <SettingFields beside="sources" {...settings} />}
          </div>
        )}
        <TextField
          label={EVENT_TEXT.addressOfItsPage}
          value={value.slug}
          error={error('slug')}
          hint={`${location.origin}/watch/${value.slug}`}
          onChange={(typed) => change({ slug: typed.target.value })}
        />
      </div>
      <ChannelChoice
        channelId={value.channelId}
        error={error('channelId')}
        onChange={(channelId) => change({ channelId })}
      />
      <PlaceChoice chosen={value.destinationIds} onChange={(destinationIds) => change({ destinationIds })} />
      <Postings event={event} />
      <OrderLine of="events" id={event.id} />
      <DutyChoice
        event={event}
        chosen={draft.duties}
        error={error('duties')}
        onChange={(duties) => change({ duties })}
      />
      <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
        <SettingFields beside="viewers" {...settings} />
        {value.renditions !== 'off' && <SettingFields beside="sizes" {...settings} />}
      </div>
      <WatchingLine level="event" id={event.id} />
      <LookLine level="event" id={event.id} />
      <WebsitesLine level="event" id={event.id} />
      <SlatePreview event={event} />
      {canEdit && <CallOff event={event} />}
    </fieldset>
  );
}
