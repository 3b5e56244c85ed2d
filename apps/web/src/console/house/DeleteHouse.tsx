import { useState } from 'react';
import type { HouseView } from '@heliphon/contracts/house';
import { deleteHouse } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { HOUSE_TEXT } from '../../words/console/house.js';
import { fieldSentence } from '../../words/problems.js';

/** Leaving for good: asked for twice, with its name and one's password. */
export function DeleteHouse({ house }: { house: HouseView }) {
  const [isAsked, setAsked] = useState(false);
  const [wish, setWish] = useState({ name: '', password: '' });
  const action = useAction();
  return (
    <section aria-label={HOUSE_TEXT.leaveForGood} className="border-t border-line pt-4">
      <h2 className="mb-1 text-[19px]">{HOUSE_TEXT.leaveForGood}</h2>
      {!isAsked ? (
        <Button kind="quiet" onClick={() => setAsked(true)}>
          {HOUSE_TEXT.deleteTheHouse}
        </Button>
      ) : (
        <div className="grid gap-3 rounded-md border border-rust p-4">
          <p className="max-w-[60ch]">{HOUSE_TEXT.everythingWillBeDeleted(house.name)}</p>
          <div className="grid gap-3 sm:grid-cols-2">
            <TextField
              label={HOUSE_TEXT.typeTheNameOfThe}
              value={wish.name}
              error={fieldSentence(action.error, 'name')}
              onChange={(typed) => setWish({ ...wish, name: typed.target.value })}
            />
            <TextField
              label={HOUSE_TEXT.yourPassword}
              type="password"
              autoComplete="current-password"
              value={wish.password}
              error={fieldSentence(action.error, 'password')}
              onChange={(typed) => setWish({ ...wish, password: typed.target.value })}
            />
          </div>
          <Fault error={action.error} />
          <div className="flex flex-wrap gap-3">
            <HoldButton
              className="border-rust text-rust"
              disabled={wish.name !== house.name}
              onHeld={() =>
                void action.run(async () => {
                  await deleteHouse(wish);
                  location.assign('/');
                })
              }
            >
              {HOUSE_TEXT.deleteTheHouseHold}
            </HoldButton>
            <Button onClick={() => setAsked(false)}>{HOUSE_TEXT.keepIt}</Button>
          </div>
        </div>
      )}
    </section>
  );
}
