import { useState } from 'react';
import type { EventView } from '@heliphon/contracts/events';
import { useDestinations } from '../../data/destinations.js';
import { addPlace } from '../../data/events.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DESK_TEXT } from '../../words/console/desk.js';

/** Takes one more place in, also while the event is on air. */
export function AddPlace({ event }: { event: EventView }) {
  const { data } = useDestinations();
  const [isOpen, setOpen] = useState(false);
  const action = useAction();
  const others = data?.items.filter(({ id }) => !event.destinationIds.includes(id)) ?? [];
  if (others.length === 0) return null;
  const add = (id: string): void =>
    void action.run(async () => {
      await addPlace(event.id, id);
      setOpen(false);
    });
  return (
    <div className="pt-1">
      <button
        type="button"
        aria-expanded={isOpen}
        className="min-h-6 text-[13px] text-pine underline underline-offset-2"
        onClick={() => setOpen(!isOpen)}
      >
        {DESK_TEXT.addAPlace}
      </button>
      {isOpen && (
        <div role="group" aria-label={DESK_TEXT.addAPlace} className="flex flex-wrap gap-2 py-1.5">
          {others.map(({ id, name }) => (
            <Button key={id} disabled={action.isBusy} onClick={() => add(id)}>
              {name}
            </Button>
          ))}
        </div>
      )}
      <Fault error={action.error} isSmall />
    </div>
  );
}
