import { useState } from 'react';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { EventState } from '@heliphon/core/schedule/event-life';
import type { EventView } from '@heliphon/contracts/events';
import type { PostingView } from '@heliphon/contracts/postings';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { choosePlaceSize, pausePlace, removePlace } from '../../data/events.js';
import { goOnThere } from '../../data/postings.js';
import { useServerNow } from '../../data/server-clock.js';
import { useCan, useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { endingWords, POSTINGS_TEXT } from '../../words/console/postings.js';
import { megabits, placeWords } from '../../words/signal.js';
import { PlaceSize } from './PlaceSize.js';
import type { DeskPlace } from './useDesk.js';

interface PlaceRowProps {
  readonly event: EventView;
  readonly place: DeskPlace;
  /** Where it is an outlet. */
  readonly posting: PostingView | null;
  readonly isMoving: boolean;
  /** The smaller pictures that are made, by their names. */
  readonly sizes: readonly string[];
}

const SMALL = 'min-h-6 shrink-0 px-1.5 text-[13px] text-pine underline underline-offset-2';

/** One place: how it stands, and, opened, all that is known of it. */
export function PlaceRow({ event, place, posting, isMoving, sizes }: PlaceRowProps) {
  const nowMs = useServerNow();
  const canMove = useCan('events.move');
  const action = useAction();
  const [isOpen, setOpen] = useState(false);
  const { destinationId, name, isPaused } = place;
  const isOver = event.state === 'kept' || event.state === 'cancelled';
  const { mark, words } = standing(event.state, place, posting, isMoving, nowMs);
  const hasEnded = event.state === 'air' && posting?.state === 'ended';
  const viewers = event.state === 'air' ? (posting?.viewers ?? null) : null;
  return (
    <li>
      <div className="flex items-center gap-2.5">
        <Mark name={mark} />
        <span className="min-w-0 flex-1">
          <button
            type="button"
            aria-expanded={isOpen}
            className="mr-2.5 text-left font-bold hover:underline"
            onClick={() => setOpen(!isOpen)}
          >
            {name}
          </button>
          <span className={mark === 'trouble' ? 'text-rust' : 'text-ink-soft'}>
            {words}
            {viewers !== null && ` · ${DESK_TEXT.watching(viewers)}`}
          </span>
        </span>
        {canMove && !isOver && !hasEnded && (
          <button
            type="button"
            className={SMALL}
            disabled={action.isBusy}
            onClick={() => void action.run(() => pausePlace(event.id, destinationId, !isPaused))}
          >
            {isPaused ? DESK_TEXT.resume : DESK_TEXT.pause}
            <span className="sr-only">: {name}</span>
          </button>
        )}
      </div>
      {hasEnded && canMove && (
        <Button
          className="my-1 ml-7"
          disabled={action.isBusy}
          onClick={() => void action.run(() => goOnThere(event.id, destinationId))}
        >
          {POSTINGS_TEXT.goOn}
        </Button>
      )}
      {isOpen && (
        <div className="grid justify-items-start gap-1 pb-1.5 pl-7 text-[13px]">
          <PlaceFigures place={place} />
          {canMove && !isOver && (
            <PlaceSize
              place={place}
              sizes={sizes}
              isBusy={action.isBusy}
              onChoose={(size) => void action.run(() => choosePlaceSize(event.id, destinationId, size))}
            />
          )}
          {posting?.link && (
            <a
              href={posting.link}
              target="_blank"
              rel="noreferrer"
              className="text-pine underline underline-offset-2"
            >
              {POSTINGS_TEXT.seeItThere}
            </a>
          )}
          {canMove && !isOver && (
            <HoldButton onHeld={() => void action.run(() => removePlace(event.id, destinationId))}>
              {DESK_TEXT.removePlaceHold}
            </HoldButton>
          )}
        </div>
      )}
      <Fault error={action.error} isSmall />
    </li>
  );
}

/** Since when, how much, and what waits for it. */
function PlaceFigures({ place: { state, rateBps, queuedBytes } }: { place: DeskPlace }) {
  const zone = useZone();
  if (state.state === 'troubled') return <p>{DESK_TEXT.triesSoFar(state.attempt)}</p>;
  if (state.state !== 'going-out') return null;
  const since = DESK_TEXT.goingOutSince(timeOfDay(state.sinceMs, zone));
  // What is on its way at this moment is no backlog.
  const waitsMs = rateBps > 0 ? (queuedBytes * 8000) / rateBps : 0;
  const waits = waitsMs < 500 ? DESK_TEXT.nothingWaits : DESK_TEXT.secondsWait((waitsMs / 1000).toFixed(1));
  return (
    <p>
      {since} · {megabits(rateBps)} · {waits}
    </p>
  );
}

interface Standing {
  readonly mark: MarkName;
  readonly words: string;
}

function standing(
  state: EventState,
  place: DeskPlace,
  posting: PostingView | null,
  isMoving: boolean,
  nowMs: number,
): Standing {
  if (state === 'kept') return { mark: 'kept', words: DESK_TEXT.isOver };
  if (place.isPaused) return { mark: 'advice', words: DESK_TEXT.paused };
  if (posting?.trouble && place.state.state !== 'going-out')
    return { mark: 'trouble', words: POSTINGS_TEXT.trouble(posting.trouble) };
  if (posting?.state === 'ended') return { mark: 'caution', words: endingWords(posting) };
  if (posting?.state === null && state === 'air')
    return { mark: 'doors', words: POSTINGS_TEXT.isBeingPosted };
  return inState(state, place.state, isMoving, nowMs);
}

function inState(state: EventState, place: DestinationState, isMoving: boolean, nowMs: number): Standing {
  if (isMoving && (place.state === 'connecting' || place.state === 'waiting'))
    return { mark: 'doors', words: DESK_TEXT.isConnectedAgain };
  return state === 'air' ? placeWords(place, nowMs) : { mark: 'planned', words: DESK_TEXT.waitingToGoOnAir };
}
