import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { EventState } from '@heliphon/core/schedule/event-life';
import type { EventView } from '@heliphon/contracts/events';
import type { HouseFigures } from '@heliphon/contracts/push';
import { usePostings } from '../../data/postings.js';
import { useCan } from '../../data/session.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { AddPlace } from './AddPlace.js';
import { PlaceRow } from './PlaceRow.js';
import type { DeskPlace } from './useDesk.js';

interface PlacesListProps {
  readonly event: EventView;
  readonly places: readonly DeskPlace[];
  /** The event has just come from another media node. */
  readonly isMoving: boolean;
  readonly programme: HouseFigures['programmes'][number] | null;
}

/** Every place with its state as mark and words; our website first, drawn from the programme itself. */
export function PlacesList({ event, places, isMoving, programme }: PlacesListProps) {
  const canMove = useCan('events.move');
  const { data: postings } = usePostings(event.id);
  const { state } = event;
  const elsewhere = (postings?.items ?? []).reduce((sum, { viewers }) => sum + (viewers ?? 0), 0);
  return (
    <section aria-label={DESK_TEXT.whereItGoes} className="border-t border-line pb-2.5">
      <h2 className="flex items-baseline justify-between pt-2 pb-1 text-[17px]">
        {DESK_TEXT.whereItGoes}
        <span className="font-sans text-sm font-normal text-ink-soft">
          {state === 'air' && DESK_TEXT.watching((programme?.viewers ?? 0) + elsewhere)}
          {state === 'doors' && DESK_TEXT.waiting(programme?.waiting ?? 0)}
        </span>
      </h2>
      <div className="lg:max-h-[22vh] lg:overflow-y-auto lg:max-xl:max-h-[14vh]">
        <ul className="grid gap-1">
          <Website state={state} programme={programme} />
          {places.map((place) => (
            <PlaceRow
              key={place.destinationId}
              event={event}
              place={place}
              posting={
                postings?.items.find(({ destinationId }) => destinationId === place.destinationId) ?? null
              }
              isMoving={isMoving}
              sizes={programme?.sizes.making.map(({ name }) => name) ?? []}
            />
          ))}
        </ul>
        {canMove && state !== 'kept' && state !== 'cancelled' && <AddPlace event={event} />}
      </div>
    </section>
  );
}

function Website({ state, programme }: Pick<PlacesListProps, 'programme'> & { state: EventState }) {
  const { mark, words } = websiteWords(state, programme?.viewersHave ?? null);
  const viewersAt = state === 'air' ? (programme?.viewersAt ?? []) : [];
  const making = programme?.sizes.making ?? [];
  // All of them on our page need no line of their own.
  const isParted = viewersAt.some(({ site }) => site !== null);
  return (
    <li className="flex items-center gap-2.5">
      <Mark name={mark} />
      <span className="min-w-0 flex-1">
        <b className="mr-2.5">{DESK_TEXT.ourWebsite}</b>
        <span className="text-ink-soft">{words}</span>
        {isParted && (
          <span className="block text-[13px] text-ink-soft">
            {viewersAt.map(({ site, viewers }) => DESK_TEXT.viewersAt(viewers, site)).join(' · ')}
          </span>
        )}
        {making.length > 0 && (
          <span className="block text-[13px] text-ink-soft">
            {DESK_TEXT.inSizes(making.map(({ name }) => name).join(', '))}
          </span>
        )}
      </span>
    </li>
  );
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
