import { type FormEvent, type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import type { EditHouse, HouseView } from '@heliphon/contracts/house';
import { SLATE_WORDS_LENGTH } from '@heliphon/contracts/slate';
import { editHouse, useHouse } from '../../data/house.js';
import { useCan } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { SelectField, TextArea, TextField } from '../../ui/Field.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { CounterFields } from './CounterFields.js';
import { DeleteHouse } from './DeleteHouse.js';
import { OwnSizes } from './OwnSizes.js';
import { SlateSound } from './SlateSound.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';
import { LOOK_TEXT } from '../../words/console/look.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** The house's name, zone, chat rules and slate; taking everything along; and leaving for good. */
export function SettingsPart() {
  const { data: house, error, mutate } = useHouse();
  const canEdit = useCan('house.edit');
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!house) return <Loading what={HOUSE_TEXT.theHouse} />;
  return (
    <div className="grid max-w-3xl gap-8">
      <p className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <span>{HOUSE_TEXT.coloursOfThePages}</span>
        <Link to="/look/house" className={buttonClass()}>
          {LOOK_TEXT.changeTheLook}
        </Link>
      </p>
      <p className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <span>{HOUSE_TEXT.whoMayWatchIt}</span>
        <Link to="/watching/house" className={buttonClass()}>
          {WATCHING_TEXT.change}
        </Link>
      </p>
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
    <form onSubmit={submit} noValidate>
      {!canEdit && <p className="mb-4 text-ink-soft">{HOUSE_TEXT.onlyAnOwnerCanChangeThese}</p>}
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
        >
          <SlateSound
            fileId={value.slateSoundId}
            error={fieldSentence(action.error, 'slateSoundId')}
            onChange={(slateSoundId) => setChange({ ...change, slateSoundId })}
          />
        </SlateWords>
        <OwnSizes
          sizes={value.ownSizes}
          errorAt={(path) => fieldSentence(action.error, path)}
          onChange={(ownSizes) => setChange({ ...change, ownSizes })}
        />
        <CounterFields
          value={value.visitCounter}
          errorAt={(path) => fieldSentence(action.error, path)}
          onChange={(visitCounter) => setChange({ ...change, visitCounter })}
        />
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
  /** What belongs to it. */
  readonly children: ReactNode;
}

/** What viewers read while the picture is away, and how that looks once the field is left. */
function SlateWords({ value, version, error, onChange, children }: SlateWordsProps) {
  const [shown, setShown] = useState(value);
  const isTooLong = value.length > SLATE_WORDS_LENGTH;
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <div className="grid content-start gap-4">
        <TextField
          label={HOUSE_TEXT.slateWords}
          needed
          value={value}
          dir="auto"
          error={isTooLong ? HOUSE_TEXT.slateWordsTooLong(value.length, SLATE_WORDS_LENGTH) : error}
          onChange={(typed) => onChange(typed.target.value)}
          onBlur={() => !isTooLong && setShown(value)}
        />
        {children}
      </div>
      <img
        src={`/api/house/slate?${new URLSearchParams({ words: shown, version: String(version) }).toString()}`}
        alt={HOUSE_TEXT.howTheSlateLooks}
        className="aspect-video w-full rounded-md border border-line bg-sunk"
      />
    </div>
  );
}
