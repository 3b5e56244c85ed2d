import { type FormEvent, useState } from 'react';
import type { SourceView } from '@heliphon/contracts/sources';
import { pairBox } from '../../data/commands.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';

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
        label="Code on the box’s screen"
        needed
        autoFocus
        autoComplete="off"
        spellCheck={false}
        className="figures text-xl uppercase"
        value={userCode}
        maxLength={20}
        onChange={(typed) => setUserCode(typed.target.value)}
        error={fieldSentence(error, 'userCode')}
        hint="Eight letters; switch the box on if it shows none"
      />
      <TextField
        label="Name of the box"
        needed
        value={name}
        maxLength={60}
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(error, 'name')}
        hint="Where it stands, for instance Tower"
      />
      <SelectField
        label="Where its picture arrives"
        value={sourceId}
        onChange={setSourceId}
        error={fieldSentence(error, 'sourceId')}
        options={[
          { value: '', label: 'A new source of the same name' },
          ...sources
            .filter(({ kind }) => kind === 'device')
            .map((source) => ({ value: source.id, label: source.name })),
        ]}
      />
      <Fault error={error} exceptAt={['userCode', 'name', 'sourceId']} />
      <div className="flex gap-3">
        <Button kind="main" type="submit" disabled={isBusy}>
          Pair the box
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}
