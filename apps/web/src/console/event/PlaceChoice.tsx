import { useDestinations } from '../../data/destinations.js';
import { usePlaceSets } from '../../data/place-sets.js';
import { useCan } from '../../data/session.js';
import { Mark } from '../../ui/Mark.js';
import { EVENT_TEXT } from '../../words/console/event.js';
import { PLACES_TEXT } from '../../words/console/places.js';
import { KeepAsSet } from '../places/KeepAsSet.js';

interface PlaceChoiceProps {
  readonly chosen: readonly string[];
  readonly onChange: (ids: string[]) => void;
}

const CHIP = 'flex min-h-9 items-center gap-2 rounded-md border px-3 hover:bg-hover';
const look = (isChosen: boolean): string =>
  `${CHIP} ${isChosen ? 'border-pine bg-pine-wash' : 'border-edge bg-surface'}`;

/** Which places the programme goes to, besides our website: one by one, or a set at once. */
export function PlaceChoice({ chosen, onChange }: PlaceChoiceProps) {
  const { data } = useDestinations();
  const { data: sets } = usePlaceSets();
  const canEdit = useCan('events.edit');
  const isSame = (ids: readonly string[]): boolean =>
    ids.length === chosen.length && ids.every((id) => chosen.includes(id));
  return (
    <div className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">{EVENT_TEXT.whereItGoes}</h2>
      <div className="flex flex-wrap gap-2">
        <span className="flex min-h-9 items-center gap-2 rounded-md border border-pine bg-pine-wash px-3">
          <Mark name="passed" /> {EVENT_TEXT.ourWebsiteAlways}
        </span>
        {data?.items.map(({ id, name }) => {
          const isChosen = chosen.includes(id);
          return (
            <button
              key={id}
              type="button"
              aria-pressed={isChosen}
              onClick={() => onChange(isChosen ? chosen.filter((one) => one !== id) : [...chosen, id])}
              className={look(isChosen)}
            >
              {isChosen && <Mark name="passed" />} {name}
            </button>
          );
        })}
      </div>
      <div role="group" aria-label={PLACES_TEXT.sets} className="flex flex-wrap items-center gap-2">
        {(sets?.items.length ?? 0) > 0 && <span className="text-ink-soft">{PLACES_TEXT.sets}</span>}
        {sets?.items.map(({ id, name, destinationIds }) => (
          <button
            key={id}
            type="button"
            aria-pressed={isSame(destinationIds)}
            onClick={() => onChange([...destinationIds])}
            className={look(isSame(destinationIds))}
          >
            {name}
          </button>
        ))}
        {canEdit &&
          sets &&
          chosen.length > 0 &&
          !sets.items.some(({ destinationIds }) => isSame(destinationIds)) && (
            <KeepAsSet destinationIds={chosen} />
          )}
      </div>
    </div>
  );
}
