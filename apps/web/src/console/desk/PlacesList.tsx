import type { SignalState } from '@heliphon/core/control/observations';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { EventState } from '@heliphon/core/schedule/event-life';
import { useServerNow } from '../../data/server-clock.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { placeWords } from '../../words/signal.js';

interface PlacesListProps {
  readonly state: EventState;
  readonly places: readonly { readonly name: string; readonly state: DestinationState }[];
  readonly signal: SignalState | null;
  readonly viewers: number;
  readonly waiting: number;
}

/** Every place with its state as mark and words; our website first, drawn from the programme itself. */
export function PlacesList({ state, places, signal, viewers, waiting }: PlacesListProps) {
  const nowMs = useServerNow();
  const website = websiteWords(state, signal);
  const rows = [
    { name: 'Our website', ...website },
    ...places.map((place) => ({ name: place.name, ...inState(state, place.state, nowMs) })),
  ];
  return (
    <section aria-label="Where it goes" className="border-t border-line pb-2.5">
      <h2 className="flex items-baseline justify-between pt-2 pb-1 text-[17px]">
        Where it goes
        <span className="font-sans text-sm font-normal text-ink-soft">
          {state === 'air' ? `${viewers} watching` : state === 'doors' ? `${waiting} waiting` : ''}
        </span>
      </h2>
      <ul className="grid gap-1">
        {rows.map(({ name, mark, words }) => (
          <li key={name} className="flex items-center gap-2.5">
            <Mark name={mark} />
            <b>{name}</b>
            <span className={mark === 'trouble' ? 'text-rust' : 'text-ink-soft'}>{words}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function inState(
  state: EventState,
  place: DestinationState,
  nowMs: number,
): { mark: MarkName; words: string } {
  if (state === 'kept') return { mark: 'kept', words: 'over' };
  return state === 'air' ? placeWords(place, nowMs) : { mark: 'planned', words: 'waiting for air' };
}

function websiteWords(state: EventState, signal: SignalState | null): { mark: MarkName; words: string } {
  switch (state) {
    case 'planned':
      return { mark: 'planned', words: 'shows the poster' };
    case 'doors':
      return { mark: 'doors', words: 'shows the countdown' };
    case 'air':
      return signal?.present === false
        ? { mark: 'caution', words: 'says the picture will be back' }
        : { mark: 'out', words: 'going out' };
    case 'kept':
      return { mark: 'kept', words: 'has the replay' };
    case 'cancelled':
      return { mark: 'cancelled', words: 'says it is cancelled' };
  }
}
