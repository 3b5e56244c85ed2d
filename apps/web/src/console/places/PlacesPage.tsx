import { type FormEvent, useState } from 'react';
import { parseRtmpAddress } from '@heliphon/core/destinations/rtmp-address';
import type { DestinationView } from '@heliphon/contracts/destinations';
import { addDestination, deleteDestination, editDestination } from '../../data/commands.js';
import { useCan, useDestinations } from '../../data/house.js';
import { useLive } from '../../data/live.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { fieldSentence, problemSentence, sentenceFor } from '../../words/problems.js';
import { placeWords } from '../../words/signal.js';

/** Where it goes: our website first, then every other place. */
export function PlacesPage() {
  const { data, error, mutate } = useDestinations();
  const canEdit = useCan('destinations.edit');
  const [isAdding, setAdding] = useState(false);
  const add = canEdit && !isAdding && (
    <Button kind="main" onClick={() => setAdding(true)}>
      Add a place
    </Button>
  );
  return (
    <div className="px-5 pt-4 pb-8">
      <div className="mb-4 flex items-center gap-4">
        <h1 className="text-[27px]">Where it goes</h1>
        <p className="text-ink-soft">every place a programme can be sent to</p>
        <span className="flex-1" />
        {add}
      </div>
      {isAdding && (
        <PlaceForm
          title="Add the place"
          onSave={async (wish) =>
            void (await addDestination({ name: wish.name, address: wish.address ?? '' }))
          }
          onClose={() => setAdding(false)}
          needsAddress
        />
      )}
      <ul>
        <li className="flex items-center gap-4 border-t border-line py-4">
          <Mark name="out" />
          <div>
            <h2 className="text-[19px]">Our website</h2>
            <p className="text-ink-soft">watch page and embed; every event goes there, always</p>
          </div>
        </li>
        {data?.items.map((place) => (
          <PlaceRow key={place.id} place={place} />
        ))}
      </ul>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="the places" />}
      {data?.items.length === 0 && !isAdding && (
        <Empty action={add}>
          No other place yet. Wherever an RTMP address and key are offered, the programme can go too.
        </Empty>
      )}
    </div>
  );
}

function PlaceRow({ place }: { place: DestinationView }) {
  const canEdit = useCan('destinations.edit');
  const nowMs = useServerNow();
  const { figures } = useLive();
  const [isOpen, setOpen] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const live = figures?.programmes
    .flatMap((programme) => programme.destinations)
    .find((d) => d.destinationId === place.id);
  const { mark, words } = live
    ? placeWords(live.state, nowMs)
    : { mark: 'planned' as const, words: 'nothing is going there now' };
  return (
    <li className="border-t border-line py-4">
      <div className="flex items-center gap-4">
        <Mark name={mark} />
        <div className="flex-1">
          <h2 className="text-[19px]">{place.name}</h2>
          <p className="text-ink-soft">
            {words} ·{' '}
            <span className="figures text-[13px]">{`${place.host}:${place.port}/${place.application}`}</span>
          </p>
        </div>
        {canEdit && (
          <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Fold' : 'Change'}
          </Button>
        )}
      </div>
      {isOpen && (
        <>
          <PlaceForm
            title="Save the place"
            name={place.name}
            onSave={async (wish) => void (await editDestination(place, wish))}
            onClose={() => setOpen(false)}
          />
          <Button kind="quiet" onClick={() => void deleteDestination(place).catch(setError)}>
            Delete the place
          </Button>
          {error !== null && (
            <p role="alert" className="text-rust">
              {problemSentence(error)}
            </p>
          )}
        </>
      )}
    </li>
  );
}

interface PlaceFormProps {
  readonly title: string;
  readonly name?: string;
  readonly needsAddress?: boolean;
  readonly onSave: (wish: { name: string; address?: string }) => Promise<void>;
  readonly onClose: () => void;
}

/** An address is pasted whole, and taken apart before anybody's eyes. */
function PlaceForm({ title, name: given = '', needsAddress = false, onSave, onClose }: PlaceFormProps) {
  const [name, setName] = useState(given);
  const [address, setAddress] = useState('');
  const [error, setError] = useState<unknown>(null);
  const parsed = parseRtmpAddress(address);
  const isTyped = address.trim() !== '';
  const local = isTyped && !parsed.ok ? sentenceFor(`address-${parsed.error.code}`) : null;
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    setError(null);
    onSave({ name, ...(isTyped || needsAddress ? { address } : {}) }).then(onClose, setError);
  };
  return (
    <form onSubmit={submit} className="grid max-w-2xl gap-3 py-4">
      <TextField
        label="Name of the place"
        needed
        value={name}
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(error, 'name')}
      />
      <TextField
        label={needsAddress ? 'Address with its key, whole' : 'New address with its key, whole'}
        needed={needsAddress}
        value={address}
        autoComplete="off"
        spellCheck={false}
        onChange={(typed) => setAddress(typed.target.value)}
        error={local ?? fieldSentence(error, 'address')}
        hint={
          needsAddress
            ? 'For instance rtmp://place.example/live/your-key'
            : 'Left empty, address and key stay as they are.'
        }
      />
      {parsed.ok && (
        <dl
          className="grid grid-cols-[auto_1fr] gap-x-4 text-sm text-ink-soft"
          aria-label="The address, taken apart"
        >
          <dt>Machine</dt>
          <dd className="figures">{parsed.value.host}</dd>
          <dt>Port</dt>
          <dd className="figures">{parsed.value.port}</dd>
          <dt>Application</dt>
          <dd className="figures">{parsed.value.application}</dd>
          <dt>Key</dt>
          <dd className="figures">{'•'.repeat(Math.min(12, parsed.value.streamName.length))}</dd>
        </dl>
      )}
      {error !== null && !fieldSentence(error, 'name') && !fieldSentence(error, 'address') && (
        <p role="alert" className="text-rust">
          {problemSentence(error)}
        </p>
      )}
      <div className="flex gap-3">
        <Button kind="main" type="submit">
          {title}
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </form>
  );
}
