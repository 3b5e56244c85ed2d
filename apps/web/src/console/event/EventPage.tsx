import { useState } from 'react';
import { useParams } from 'react-router';
import type { Stage } from '@heliphon/core/readiness/readiness';
import type { EventView } from '@heliphon/contracts/events';
import { undoLast } from '../../data/activity.js';
import { useCan, useZone } from '../../data/session.js';
import { useReadiness } from '../../data/events.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { Mark, STATE_WORDS } from '../../ui/Mark.js';
import { useAction } from '../../ui/useAction.js';
import { clock, clockOrDays, longDay, timeOfDay } from '@heliphon/contracts/time-words';
import { problemSentence } from '../../words/problems.js';
import { PlanEventDialog } from '../week/PlanEventDialog.js';
import { BothVersions } from './BothVersions.js';
import { ConnectStage } from './ConnectStage.js';
import { DraftLine } from './DraftLine.js';
import { EventHistory } from './EventHistory.js';
import { EventGate } from './EventGate.js';
import { KeepStage } from './KeepStage.js';
import { PlanStage } from './PlanStage.js';
import { ReadyForAir } from './ReadyForAir.js';
import { RehearseStage } from './RehearseStage.js';
import { SeriesLine } from './SeriesLine.js';
import { StageRail } from './StageRail.js';
import { type SaveState, useAutosave } from './useAutosave.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** An event's workspace: what it is, how long until it begins, five stages, and what is still open. */
export function EventPage() {
  const { stage } = useParams();
  return (
    <EventGate>
      {(event) => <Workspace key={event.id} event={event} stage={readStage(stage, event)} />}
    </EventGate>
  );
}

function readStage(stage: string | undefined, event: EventView): Exclude<Stage, 'air'> {
  if (stage === 'plan' || stage === 'connect' || stage === 'rehearse' || stage === 'keep') return stage;
  return event.state === 'kept' ? 'keep' : 'plan';
}

function Workspace({ event, stage }: { event: EventView; stage: Exclude<Stage, 'air'> }) {
  const zone = useZone();
  const autosave = useAutosave(event);
  const { data: readiness } = useReadiness(event.id);
  const checks = readiness?.checks ?? [];
  const canPlan = useCan('events.edit');
  const [isPlanning, setPlanning] = useState(false);
  const isOver = event.state === 'kept' || event.state === 'cancelled';
  return (
    <div className="px-5 pt-4 pb-8">
      <header className="flex items-start justify-between gap-6">
        <div>
          <h1 className="text-[27px]">{autosave.draft.title ?? event.title}</h1>
          <p className="text-ink-soft">
            {longDay(event.startsAtMs, zone)}, {timeOfDay(event.startsAtMs, zone)} to{' '}
            {timeOfDay(event.stopsAtMs, zone)} · <SaveWords state={autosave.state} />{' '}
            <UndoButton event={event} isOffered={autosave.state.status === 'saved' && autosave.hasSaved} />
          </p>
          <SeriesLine event={event} />
          {canPlan && (
            <button
              type="button"
              className="min-h-6 text-[13px] text-pine underline underline-offset-2"
              onClick={() => setPlanning(true)}
            >
              {EVENT_TEXT.planAnotherLikeIt}
            </button>
          )}
          {isPlanning && <PlanEventDialog like={event} onClose={() => setPlanning(false)} />}
        </div>
        <BigClock event={event} />
      </header>
      <DraftLine event={event} />
      <BothVersions autosave={autosave} />
      <StageRail event={event} checks={checks} here={stage} />
      <div className={`grid gap-8 ${isOver ? '' : 'lg:grid-cols-[minmax(0,1fr)_330px]'}`}>
        <section aria-label={stage}>
          {stage === 'plan' && <PlanStage event={event} autosave={autosave} />}
          {stage === 'connect' && <ConnectStage event={event} />}
          {stage === 'rehearse' && <RehearseStage event={event} />}
          {stage === 'keep' && <KeepStage event={event} />}
          {(stage === 'plan' || stage === 'keep') && <EventHistory eventId={event.id} />}
        </section>
        {!isOver && <ReadyForAir checks={checks} isKnown={readiness !== undefined} eventId={event.id} />}
      </div>
    </div>
  );
}

/** Takes back the last edit that was saved here. */
function UndoButton({ event, isOffered }: { event: EventView; isOffered: boolean }) {
  const action = useAction();
  if (action.error !== null) return <span role="alert">{problemSentence(action.error)}</span>;
  if (!isOffered) return null;
  return (
    <Button
      kind="quiet"
      className="!min-h-7 text-[13px]"
      disabled={action.isBusy}
      onClick={() => void action.run(() => undoLast(event.id))}
    >
      {EVENT_TEXT.undoTheLastChange}
    </Button>
  );
}

function SaveWords({ state }: { state: SaveState }) {
  switch (state.status) {
    case 'saved':
      return <span role="status">{EVENT_TEXT.saved}</span>;
    case 'saving':
      return <span role="status">{EVENT_TEXT.saving}</span>;
    case 'waiting':
      return (
        <span role="status" className="text-plum">
          {EVENT_TEXT.notSavedYetStillTrying}
        </span>
      );
    case 'both':
      return (
        <span role="alert" className="text-plum">
          {EVENT_TEXT.notSavedYetSomebodyElse}
        </span>
      );
    case 'refused':
      return (
        <span role="alert" className="text-rust">
          {EVENT_TEXT.notSaved(problemSentence(state.error))}
        </span>
      );
  }
}

/** To the doors, to the start, or since air. */
function BigClock({ event }: { event: EventView }) {
  const nowMs = useServerNow();
  const { figure, words } = clockOf(event, nowMs);
  return (
    <p className="text-right">
      <span className="figures flex items-center justify-end gap-3 text-[28px] leading-tight font-semibold">
        <Mark name={event.state} sizePx={22} />
        {figure}
      </span>
      <span className="text-[13px] text-ink-soft">{words}</span>
    </p>
  );
}

function clockOf(event: EventView, nowMs: number): { figure: string; words: string } {
  if (event.isDraft) return { figure: '–', words: EVENT_TEXT.aDraft };
  switch (event.state) {
    case 'planned':
      return { figure: clockOrDays(event.doorsAtMs - nowMs), words: EVENT_TEXT.untilTheDoorsOpen };
    case 'doors':
      return { figure: clock(event.startsAtMs - event.filmMs - nowMs), words: EVENT_TEXT.untilItGoesOnAir };
    case 'air':
      return { figure: clock(nowMs - (event.airAtMs ?? nowMs)), words: EVENT_TEXT.onAir };
    case 'kept':
      return { figure: clock((event.endAtMs ?? 0) - (event.airAtMs ?? 0)), words: EVENT_TEXT.fromStartToEnd };
    case 'cancelled':
      return { figure: '–', words: STATE_WORDS.cancelled };
  }
}
