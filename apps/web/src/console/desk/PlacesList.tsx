import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { EventState } from '@heliphon/core/schedule/event-life';
import type { EventView } from '@heliphon/contracts/events';
import { pausePlace } from '../../data/events.js';
import { useCan } from '../../data/session.js';
import { useServerNow } from '../../data/server-clock.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { placeWords } from '../../words/signal.js';
import { DESK_TEXT } from '../../words/console/desk.js';

interface PlacesListProps {
  readonly event: EventView;
  readonly places: readonly {
    readonly destinationId: string;
    readonly name: string;
    readonly state: DestinationState;
    readonly isPaused: boolean;
  }[];
  readonly viewersHave: ViewersHave['kind'] | null;
  readonly viewers: number;
  readonly waiting: number;
}

/** Every place with its state as mark and words; our website first, drawn from the programme itself. */
export function PlacesList({ event, places, viewersHave, viewers, waiting }: PlacesListProps) {
  const nowMs = useServerNow();
  const canMove = useCan('events.move');
  const action = useAction();
  const { state } = event;
  const website = websiteWords(state, viewersHave);
  const rows = [
    { destinationId: null, name: DESK_TEXT.ourWebsite, isPaused: false, ...website },
    ...places.map(({ destinationId, name, isPaused, state: place }) => ({
      destinationId,
      name,
      isPaused,
      ...(isPaused ? ({ mark: 'advice', words: 'paused' } as const) : inState(state, place, nowMs)),
    })),
  ];
  return (
    <section aria-label={DESK_TEXT.whereItGoes} className="border-t border-line pb-2.5">
      <h2 className="flex items-baseline justify-between pt-2 pb-1 text-[17px]">
        {DESK_TEXT.whereItGoes}
        <span className="font-sans text-sm font-normal text-ink-soft">
          {state === 'air' && DESK_TEXT.watching(viewers)}
          {state === 'doors' && DESK_TEXT.waiting(waiting)}
        </span>
      </h2>
      <ul className="grid gap-1">
        {rows.map(({ destinationId, name, isPaused, mark, words }) => (
          <li key={destinationId ?? 'website'} className="flex items-center gap-2.5">
            <Mark name={mark} />
            <b>{name}</b>
            <span className={`min-w-0 flex-1 ${mark === 'trouble' ? 'text-rust' : 'text-ink-soft'}`}>
              {words}
            </span>
            {destinationId && canMove && state !== 'kept' && (
              <button
                type="button"
                className="min-h-6 shrink-0 px-1.5 text-[13px] text-pine underline underline-offset-2"
                disabled={action.isBusy}
                onClick={() => void action.run(() => pausePlace(event.id, destinationId, !isPaused))}
              >
                {isPaused ? 'resume' : 'pause'}
                <span className="sr-only">: {name}</span>
              </button>
            )}
          </li>
        ))}
      </ul>
      <Fault error={action.error} isSmall />
    </section>
  );
}

function inState(
  state: EventState,
  place: DestinationState,
  nowMs: number,
): { mark: MarkName; words: string } {
  if (state === 'kept') return { mark: 'kept', words: 'over' };
  return state === 'air' ? placeWords(place, nowMs) : { mark: 'planned', words: DESK_TEXT.waitingToGoOnAir };
}

function websiteWords(
  state: EventState,
  viewersHave: ViewersHave['kind'] | null,
): { mark: MarkName; words: string } {
  switch (state) {
    case 'planned':
      return { mark: 'planned', words: DESK_TEXT.showsThePoster };
    case 'doors':
      return { mark: 'doors', words: DESK_TEXT.showsTheCountdown };
    case 'air':
      if (viewersHave === 'slate') return { mark: 'caution', words: DESK_TEXT.showsTheSlate };
      return viewersHave === 'nothing'
        ? { mark: 'caution', words: DESK_TEXT.saysThePictureWillBe }
        : { mark: 'out', words: DESK_TEXT.goingOut };
    case 'kept':
      return { mark: 'kept', words: DESK_TEXT.hasTheReplay };
    case 'cancelled':
      return { mark: 'cancelled', words: DESK_TEXT.saysItIsCancelled };
  }
}
