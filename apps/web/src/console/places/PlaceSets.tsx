import { useState } from 'react';
import type { PlaceSetView } from '@heliphon/contracts/place-sets';
import { PLACE_SET_NAME_LENGTH } from '@heliphon/contracts/place-sets';
import { useDestinations } from '../../data/destinations.js';
import { deletePlaceSet, editPlaceSet, usePlaceSets } from '../../data/place-sets.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { PLACES_TEXT } from '../../words/console/places.js';
import { fieldSentence } from '../../words/problems.js';

/** The sets of places that a house has named; they are made where places are chosen. */
export function PlaceSets() {
  const { data } = usePlaceSets();
  if (!data || data.items.length === 0) return null;
  return (
    <section aria-label={PLACES_TEXT.setsOfPlaces} className="mt-6 border-t border-line pt-4">
      <h2 className="pb-1 text-[22px]">{PLACES_TEXT.setsOfPlaces}</h2>
      <ul>
        {data.items.map((set) => (
          <SetRow key={set.id} set={set} />
        ))}
      </ul>
    </section>
  );
}

function SetRow({ set }: { set: PlaceSetView }) {
  const canEdit = useCan('events.edit');
  const { data: places } = useDestinations();
  const [name, setName] = useState<string | null>(null);
  const action = useAction();
  const names = set.destinationIds.flatMap(
    (id) => places?.items.find((place) => place.id === id)?.name ?? [],
  );
  const rename = (): void =>
    void action.run(async () => {
      await editPlaceSet(set, { name: name ?? set.name });
      toldWithUndo(PLACES_TEXT.setRenamed, set.id);
      setName(null);
    });
  const remove = (): void =>
    void action.run(async () => {
      await deletePlaceSet(set);
      toldWithUndo(PLACES_TEXT.isDeleted(set.name), set.id);
    });
  return (
    <li className="flex flex-wrap items-end gap-x-4 gap-y-2 border-t border-line py-3">
      {name === null ? (
        <div className="min-w-0 flex-1 basis-64">
          <h3 className="text-[17px]">{set.name}</h3>
          <p className="text-ink-soft">{names.join(', ') || PLACES_TEXT.noneLeft}</p>
        </div>
      ) : (
        <form
          className="flex flex-1 basis-64 items-end gap-2"
          onSubmit={(submitted) => {
            submitted.preventDefault();
            rename();
          }}
        >
          <TextField
            label={PLACES_TEXT.nameOfTheSet}
            autoFocus
            value={name}
            maxLength={PLACE_SET_NAME_LENGTH}
            error={fieldSentence(action.error, 'name')}
            onChange={(typed) => setName(typed.target.value)}
          />
          <Button type="submit" disabled={action.isBusy || name.trim() === ''}>
            {PLACES_TEXT.saveTheName}
          </Button>
        </form>
      )}
      {canEdit && (
        <>
          <Button kind="quiet" onClick={() => setName(name === null ? set.name : null)}>
            {name === null ? PLACES_TEXT.rename : PLACES_TEXT.cancel}
          </Button>
          <Button kind="quiet" disabled={action.isBusy} onClick={remove}>
            {PLACES_TEXT.deleteTheSet}
          </Button>
        </>
      )}
      {fieldSentence(action.error, 'name') === null && <Fault error={action.error} isSmall />}
    </li>
  );
}
