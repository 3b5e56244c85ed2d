import { useState } from 'react';
import { useNavigate } from 'react-router';
import { localOf } from '@heliphon/core/schedule/civil-time';
import { EVENT_LIMITS, type EditEvent, type EventView } from '@heliphon/contracts/events';
import { deleteEvent } from '../../data/commands.js';
import { useCan, useDestinations, useSources } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextArea, TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { fieldSentence, problemSentence } from '../../words/problems.js';
import { PosterField } from './PosterField.js';
import type { Autosave } from './useAutosave.js';
import { WhenBar } from './WhenBar.js';

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
  const isPlanned = event.state === 'planned';
  const isOver = event.state === 'kept' || event.state === 'cancelled';
  return (
    <fieldset disabled={!canEdit} className="grid min-w-0 gap-5">
      <TextField
        label="Title"
        needed
        value={value.title}
        error={error('title')}
        maxLength={EVENT_LIMITS.titleLength}
        onChange={(typed) => change({ title: typed.target.value })}
      />
      <div className="grid gap-3">
        <h2 className="font-sans text-[15px] font-semibold">When</h2>
        <WhenBar event={event} />
        <div className="grid grid-cols-2 gap-3 xl:grid-cols-[minmax(0,1.9fr)_minmax(0,1.9fr)_minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)]">
          <TextField
            label="Starts"
            type="datetime-local"
            disabled={!isPlanned}
            value={local.starts}
            error={error('startsAtLocal')}
            onChange={(typed) => typed.target.value && change({ startsAtLocal: typed.target.value })}
          />
          <TextField
            label="Stops"
            type="datetime-local"
            disabled={isOver}
            value={local.stops}
            error={error('stopsAtLocal')}
            onChange={(typed) => typed.target.value && change({ stopsAtLocal: typed.target.value })}
          />
          <Minutes
            label="Doors, min"
            field="doorsMinutes"
            value={value.doorsMinutes}
            disabled={!isPlanned}
            {...{ change, error }}
          />
          <Minutes
            label="Run over, min"
            field="overrunMinutes"
            value={value.overrunMinutes}
            disabled={isOver}
            {...{ change, error }}
          />
          <Minutes
            label="Dead air, min"
            field="deadAirMinutes"
            value={value.deadAirMinutes}
            disabled={isOver}
            {...{ change, error }}
          />
        </div>
      </div>
      <div className="grid gap-5 md:grid-cols-2">
        <TextArea
          label="What people should know"
          rows={5}
          value={value.description}
          error={error('description')}
          maxLength={EVENT_LIMITS.descriptionLength}
          onChange={(typed) => change({ description: typed.target.value })}
        />
        <PosterField event={event} />
      </div>
      <div className="grid gap-5 md:grid-cols-2">
        <SelectField
          label="Where the picture comes from"
          needed
          value={value.sourceId ?? ''}
          error={error('sourceId')}
          onChange={(sourceId) => change({ sourceId: sourceId || null })}
          options={[
            { value: '', label: 'None yet' },
            ...(sources?.items ?? []).map(({ id, name }) => ({ value: id, label: name })),
          ]}
        />
        <TextField
          label="Address of its page"
          value={value.slug}
          error={error('slug')}
          hint={`${location.origin}/watch/${value.slug}`}
          onChange={(typed) => change({ slug: typed.target.value })}
        />
      </div>
      <PlaceChoice chosen={value.destinationIds} onChange={(destinationIds) => change({ destinationIds })} />
      <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
        <label className="flex min-h-10 items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            checked={value.chatOpen}
            onChange={(typed) => change({ chatOpen: typed.target.checked })}
          />
          <span className="font-semibold">People may chat</span>
        </label>
        <div className="w-52">
          <Minutes
            label="Viewers may go back, min"
            field="rewindMinutes"
            value={value.rewindMinutes}
            disabled={isOver}
            {...{ change, error }}
          />
        </div>
        <span className="flex-1" />
        {isPlanned && canEdit && <DeleteEvent event={event} />}
      </div>
    </fieldset>
  );
}

type MinuteField = 'doorsMinutes' | 'overrunMinutes' | 'deadAirMinutes' | 'rewindMinutes';

interface MinutesProps {
  readonly label: string;
  readonly field: MinuteField;
  readonly value: number;
  readonly disabled: boolean;
  readonly change: Autosave['change'];
  readonly error: (field: MinuteField) => string | null;
}

function Minutes({ label, field, value, disabled, change, error }: MinutesProps) {
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

function PlaceChoice({ chosen, onChange }: { chosen: readonly string[]; onChange: (ids: string[]) => void }) {
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

function DeleteEvent({ event }: { event: EventView }) {
  const navigate = useNavigate();
  const [isAsked, setAsked] = useState(false);
  const [error, setError] = useState<unknown>(null);
  if (!isAsked) {
    return (
      <Button kind="quiet" onClick={() => setAsked(true)}>
        Delete the event
      </Button>
    );
  }
  return (
    <div className="flex items-center gap-3" role="group" aria-label="Delete the event">
      <span>{error === null ? 'Its page and address go with it.' : problemSentence(error)}</span>
      <Button onClick={() => setAsked(false)}>Keep it</Button>
      <Button kind="mend" onClick={() => void deleteEvent(event.id).then(() => navigate('/'), setError)}>
        Delete “{event.title}”
      </Button>
    </div>
  );
}
