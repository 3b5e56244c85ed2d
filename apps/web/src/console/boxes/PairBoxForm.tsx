import { type FormEvent, useState } from 'react';
import type { SourceView } from '@heliphon/contracts/sources';
import { pairBox } from '../../data/sources.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { BOXES_TEXT } from '../../words/console/boxes.js';

interface PairBoxFormProps {
  readonly sources: readonly SourceView[];
  /** A code that came with the address. */
  readonly code: string;
  readonly onDone: () => void;
}

/** The code that a box shows, what it is to be called, and where it sends: nothing else has to be typed. */
export function PairBoxForm({ sources, code, onDone }: PairBoxFormProps) {
  const [userCode, setUserCode] = useState(code);
  const [name, setName] = useState('');
  const [sourceId, setSourceId] = useState('');
  const { isBusy, error, run } = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void run(async () => {
      await pairBox({ userCode, name, sourceId: sourceId || null });
      onDone();
    });
  };
  return (
    <form onSubmit={submit} className="mb-4 grid max-w-xl gap-3 border-t border-line py-4">
      <TextField
        label={BOXES_TEXT.codeOnTheBoxsScreen}
        needed
        autoFocus
        autoComplete="off"
        spellCheck={false}
        className="figures text-xl uppercase"
        value={userCode}
        maxLength={20}
        onChange={(typed) => setUserCode(typed.target.value)}
        error={fieldSentence(error, 'userCode')}
        hint={BOXES_TEXT.eightLettersSwitchTheBox}
      />
      <TextField
        label={BOXES_TEXT.nameOfTheBox}
        needed
        value={name}
        maxLength={60}
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(error, 'name')}
        hint={BOXES_TEXT.whereItIsForExample}
      />
      <SelectField
        label={BOXES_TEXT.sourceForItsPicture}
        value={sourceId}
        onChange={setSourceId}
        error={fieldSentence(error, 'sourceId')}
        options={[
          { value: '', label: BOXES_TEXT.aNewSourceOfThe },
          ...sources
            .filter(({ kind }) => kind === 'device')
            .map((source) => ({ value: source.id, label: source.name })),
        ]}
      />
      <Fault error={error} exceptAt={['userCode', 'name', 'sourceId']} />
      <div className="flex gap-3">
        <Button kind="main" type="submit" disabled={isBusy}>
          {BOXES_TEXT.pairTheBox}
        </Button>
        <Button onClick={onDone}>{BOXES_TEXT.cancel}</Button>
      </div>
    </form>
  );
}
