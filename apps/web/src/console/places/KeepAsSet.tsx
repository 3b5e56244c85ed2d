import { useState } from 'react';
import { toast } from 'sonner';
import { PLACE_SET_NAME_LENGTH } from '@heliphon/contracts/place-sets';
import { addPlaceSet } from '../../data/place-sets.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { PLACES_TEXT } from '../../words/console/places.js';
import { fieldSentence } from '../../words/problems.js';

/** Gives the places that are chosen a name, so that they can be chosen together again. */
export function KeepAsSet({ destinationIds }: { destinationIds: readonly string[] }) {
  const [name, setName] = useState<string | null>(null);
  const action = useAction();
  if (name === null)
    return (
      <Button kind="quiet" onClick={() => setName('')}>
        {PLACES_TEXT.keepAsSet}
      </Button>
    );
  const keep = (): void =>
    void action.run(async () => {
      const { name: kept } = await addPlaceSet({ name, destinationIds });
      toast(PLACES_TEXT.setKept(kept));
      setName(null);
    });
  return (
    <div className="flex flex-wrap items-end gap-2">
      <TextField
        label={PLACES_TEXT.nameOfTheSet}
        placeholder={PLACES_TEXT.everySunday}
        autoFocus
        value={name}
        maxLength={PLACE_SET_NAME_LENGTH}
        error={fieldSentence(action.error, 'name')}
        onChange={(typed) => setName(typed.target.value)}
        onKeyDown={(pressed) => {
          // It stands within a form that saves itself.
          if (pressed.key !== 'Enter') return;
          pressed.preventDefault();
          keep();
        }}
      />
      <Button disabled={action.isBusy || name.trim() === ''} onClick={keep}>
        {PLACES_TEXT.keepTheSet}
      </Button>
      <Button kind="quiet" onClick={() => setName(null)}>
        {PLACES_TEXT.cancel}
      </Button>
      {fieldSentence(action.error, 'name') === null && <Fault error={action.error} isSmall />}
    </div>
  );
}
