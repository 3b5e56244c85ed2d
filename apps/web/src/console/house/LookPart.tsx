import { type FormEvent, useState } from 'react';
import type { EditHouse, HouseView } from '@heliphon/contracts/house';
import { SLATE_WORDS_LENGTH } from '@heliphon/contracts/slate';
import { deleteHouse, editHouse, useHouse } from '../../data/house.js';
import { useCan } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { SelectField, TextArea, TextField } from '../../ui/Field.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** The house's name, zone, chat rules and colours; taking everything along; and leaving for good. */
export function LookPart() {
  const { data: house, error, mutate } = useHouse();
  const canEdit = useCan('house.edit');
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!house) return <Loading what={HOUSE_TEXT.theHouse} />;
  return (
    <div className="grid max-w-3xl gap-8">
      <HouseForm key={house.version} house={house} canEdit={canEdit} />
      {canEdit && (
        <>
          <section aria-label={HOUSE_TEXT.takeACopyOfEverything} className="border-t border-line pt-4">
            <h2 className="mb-1 text-[19px]">{HOUSE_TEXT.takeACopyOfEverything}</h2>
            <p className="mb-3 max-w-[60ch] text-ink-soft">{HOUSE_TEXT.oneFileWithEverythingIn}</p>
            <a className={buttonClass()} href="/api/house/export" download="house.zip">
              {HOUSE_TEXT.downloadTheHouse}
            </a>
          </section>
          <DeleteHouse house={house} />
        </>
      )}
    </div>
  );
}

function HouseForm({ house, canEdit }: { house: HouseView; canEdit: boolean }) {
  const [change, setChange] = useState<EditHouse>({});
  const action = useAction();
  const value = { ...house, ...change };
  const zones = Intl.supportedValuesOf('timeZone');
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => {
      await editHouse(house, change);
      toldWithUndo(HOUSE_TEXT.theHouseHasBeenSaved, house.id);
    });
  };
  return (
    <form onSubmit={submit}>
      <fieldset disabled={!canEdit} className="grid gap-4">
        <div className="grid gap-4 sm:grid-cols-2">
          <TextField
            label={HOUSE_TEXT.nameOfTheHouse}
            needed
            value={value.name}
            error={fieldSentence(action.error, 'name')}
            onChange={(typed) => setChange({ ...change, name: typed.target.value })}
          />
          <SelectField
            label={HOUSE_TEXT.timeZone}
            value={value.zone}
            error={fieldSentence(action.error, 'zone')}
            onChange={(zone) => setChange({ ...change, zone })}
            options={[...new Set([house.zone, ...zones])].map((zone) => ({ value: zone, label: zone }))}
          />
        </div>
        <TextArea
          label={HOUSE_TEXT.houseRulesOfTheChat}
          rows={3}
          value={value.rules}
          error={fieldSentence(action.error, 'rules')}
          onChange={(typed) => setChange({ ...change, rules: typed.target.value })}
        />
        <SlateWords
          value={value.slateWords}
          version={house.version}
          error={fieldSentence(action.error, 'slateWords')}
          onChange={(slateWords) => setChange({ ...change, slateWords })}
        />
        <div className="flex flex-wrap gap-6">
          <Colour
            label={HOUSE_TEXT.mainColour}
            value={value.accent}
            onChange={(accent) => setChange({ ...change, accent })}
          />
          <Colour
            label={HOUSE_TEXT.warmColour}
            value={value.accentWarm}
            onChange={(accentWarm) => setChange({ ...change, accentWarm })}
          />
        </div>
        <Fault error={action.error} />
        {canEdit && (
          <Button
            kind="main"
            type="submit"
            className="justify-self-start"
            disabled={action.isBusy || Object.keys(change).length === 0}
          >
            {HOUSE_TEXT.saveTheHouse}
          </Button>
        )}
      </fieldset>
    </form>
  );
}

interface SlateWordsProps {
  readonly value: string;
  readonly version: number;
  readonly error: string | null;
  readonly onChange: (words: string) => void;
}

/** What viewers read while the picture is away, and how that looks once the field is left. */
function SlateWords({ value, version, error, onChange }: SlateWordsProps) {
  const [shown, setShown] = useState(value);
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <TextField
        label={HOUSE_TEXT.slateWords}
        needed
        value={value}
        error={error}
        maxLength={SLATE_WORDS_LENGTH}
        onChange={(typed) => onChange(typed.target.value)}
        onBlur={() => setShown(value)}
      />
      <img
        src={`/api/house/slate?${new URLSearchParams({ words: shown, version: String(version) }).toString()}`}
        alt={HOUSE_TEXT.howTheSlateLooks}
        className="aspect-video w-full rounded-md border border-line bg-sunk"
      />
    </div>
  );
}

function Colour({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (colour: string) => void;
}) {
  return (
    <label className="flex items-center gap-3 font-semibold">
      <input
        type="color"
        value={value}
        onChange={(typed) => onChange(typed.target.value)}
        className="h-10 w-14 rounded-md border border-edge bg-surface"
      />
      {label}
    </label>
  );
}

function DeleteHouse({ house }: { house: HouseView }) {
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
