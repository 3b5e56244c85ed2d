import { useState } from 'react';
import type { AddressedPlaceView } from '@heliphon/contracts/destinations';
import {
  addDestination,
  deleteDestination,
  editDestination,
  showAddress,
  useDestinations,
} from '../../data/destinations.js';
import { useCan } from '../../data/session.js';
import { useLive } from '../../data/live.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Mark } from '../../ui/Mark.js';
import { Empty, Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { placeWords } from '../../words/signal.js';
import { AccountsPart } from './AccountsPart.js';
import { PlaceSets } from './PlaceSets.js';
import { PlaceForm } from './PlaceForm.js';
import { PLACES_TEXT } from '../../words/console/places.js';

/** Where it goes: our website first, then every other place. */
export function PlacesPage() {
  const { data, error, mutate } = useDestinations();
  // Outlets stand with their accounts.
  const addressed = data?.items.filter((place) => place.kind === 'address');
  const canEdit = useCan('destinations.edit');
  const [isAdding, setAdding] = useState(false);
  const add = canEdit && !isAdding && (
    <Button kind="main" onClick={() => setAdding(true)}>
      {PLACES_TEXT.addAPlace}
    </Button>
  );
  return (
    <div className="px-5 pt-4 pb-8">
      <div className="mb-4 flex items-center gap-4">
        <h1 className="text-[27px]">{PLACES_TEXT.whereItGoes}</h1>
        <p className="text-ink-soft max-sm:hidden">{PLACES_TEXT.everyPlaceYourProgrammesCan}</p>
        <span className="flex-1" />
        {add}
      </div>
      {isAdding && (
        <PlaceForm
          title={PLACES_TEXT.addThePlace}
          place={null}
          onSave={addDestination}
          onClose={() => setAdding(false)}
        />
      )}
      <ul>
        <li className="flex items-center gap-4 border-t border-line py-4">
          <Mark name="out" />
          <div>
            <h2 className="text-[19px]">{PLACES_TEXT.ourWebsite}</h2>
            <p className="text-ink-soft">{PLACES_TEXT.watchPageAndEmbedEvery}</p>
          </div>
        </li>
        {addressed?.map((place) => (
          <PlaceRow key={place.id} place={place} />
        ))}
      </ul>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={PLACES_TEXT.thePlaces} />}
      {addressed?.length === 0 && !isAdding && <Empty action={add}>{PLACES_TEXT.noOtherPlacesYetYou}</Empty>}
      <AccountsPart />
      <PlaceSets />
    </div>
  );
}

function PlaceRow({ place }: { place: AddressedPlaceView }) {
  const canEdit = useCan('destinations.edit');
  const canSeeKeys = useCan('keys.read');
  const nowMs = useServerNow();
  const { figures } = useLive();
  const [isOpen, setOpen] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const live = figures?.programmes
    .flatMap((programme) => programme.destinations)
    .find((d) => d.destinationId === place.id);
  const { mark, words } = live
    ? placeWords(live.state, nowMs)
    : { mark: 'planned' as const, words: PLACES_TEXT.nothingGoingOutAtThe };
  return (
    <li className="border-t border-line py-4">
      <div className="flex items-center gap-4">
        <Mark name={mark} />
        <div className="flex-1">
          <h2 className="text-[19px]">{place.name}</h2>
          <p className="text-ink-soft">
            {words} ·{' '}
            <span className="figures text-[13px]">{`${place.scheme}://${place.host}:${place.port}/${place.application}`}</span>
          </p>
        </div>
        {canEdit && (
          <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Close' : 'Change'}
          </Button>
        )}
      </div>
      {isOpen && (
        <>
          <PlaceForm
            title={PLACES_TEXT.saveThePlace}
            place={place}
            onSave={async (wish) => {
              await editDestination(place, wish);
              toldWithUndo(PLACES_TEXT.thePlaceHasBeenSaved, place.id);
            }}
            onClose={() => setOpen(false)}
          />
          <div className="flex flex-wrap items-end gap-3">
            {canSeeKeys && <ShowAddress place={place} />}
            <Button
              kind="quiet"
              onClick={() => {
                deleteDestination(place).then(
                  () => toldWithUndo(PLACES_TEXT.isDeleted(place.name), place.id),
                  setError,
                );
              }}
            >
              {PLACES_TEXT.deleteThePlace}
            </Button>
          </div>
          <Fault error={error} />
        </>
      )}
    </li>
  );
}

/** The whole address, key included, only when somebody asks; that they did is written down. */
function ShowAddress({ place }: { place: AddressedPlaceView }) {
  const [address, setAddress] = useState<string | null>(null);
  const action = useAction();
  if (address !== null)
    return (
      <CopyField label={PLACES_TEXT.addressWithItsKey} value={address} what={PLACES_TEXT.theAddress} secret />
    );
  return (
    <div>
      <Button onClick={() => void action.run(async () => setAddress((await showAddress(place)).address))}>
        {PLACES_TEXT.showAddressAndKey}
      </Button>
      <Fault error={action.error} />
    </div>
  );
}
