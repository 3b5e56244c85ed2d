import { type FormEvent, useState } from 'react';
import type { WatchingView } from '@heliphon/contracts/watching';
import { readWatchPassword, removeWatchPassword, setWatchPassword } from '../../data/watching.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { FROM_WORDS } from '../../words/console/inherited.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';

interface PasswordPartProps {
  readonly view: WatchingView;
  readonly path: string;
}

/** The password that is told to viewers: shown to those who tell it, set, changed, taken away. */
export function PasswordPart({ view: { level, passwordFrom }, path }: PasswordPartProps) {
  const [shown, setShown] = useState<string | null>(null);
  const [typed, setTyped] = useState('');
  const action = useAction();
  const isOwn = passwordFrom === level;
  const set = (submitted: FormEvent): void => {
    submitted.preventDefault();
    void action.run(async () => {
      await setWatchPassword(path, typed);
      setShown(typed.trim());
      setTyped('');
    });
  };
  return (
    <section aria-label={WATCHING_TEXT.password} className="grid gap-3 border-t border-line pt-4">
      <h2 className="font-sans text-[15px] font-semibold">{WATCHING_TEXT.password}</h2>
      {passwordFrom === null && <p className="text-plum">{WATCHING_TEXT.noPasswordYet}</p>}
      {passwordFrom !== null && !isOwn && (
        <p className="text-ink-soft">{WATCHING_TEXT.passwordFrom(FROM_WORDS[passwordFrom])}</p>
      )}
      {isOwn && shown !== null && (
        <CopyField label={WATCHING_TEXT.passwordToTell} value={shown} what={WATCHING_TEXT.thePassword} />
      )}
      {isOwn && (
        <div className="flex flex-wrap gap-3">
          {shown === null && (
            <Button
              disabled={action.isBusy}
              onClick={() => void action.run(async () => setShown(await readWatchPassword(path)))}
            >
              {WATCHING_TEXT.showPassword}
            </Button>
          )}
          <Button
            kind="quiet"
            disabled={action.isBusy}
            onClick={() =>
              void action.run(async () => {
                await removeWatchPassword(path);
                setShown(null);
              })
            }
          >
            {WATCHING_TEXT.removePassword}
          </Button>
        </div>
      )}
      <form onSubmit={set} className="flex max-w-[520px] flex-wrap items-start gap-3">
        <div className="min-w-[240px] flex-1">
          <TextField
            label={WATCHING_TEXT.newPassword}
            hint={isOwn ? WATCHING_TEXT.changingEnds : WATCHING_TEXT.newPasswordHint}
            error={fieldSentence(action.error, 'password')}
            value={typed}
            autoComplete="off"
            spellCheck={false}
            onChange={({ target }) => setTyped(target.value)}
          />
        </div>
        <Button type="submit" className="mt-7" disabled={action.isBusy || typed.trim() === ''}>
          {isOwn ? WATCHING_TEXT.changePassword : WATCHING_TEXT.setPassword}
        </Button>
      </form>
      <Fault error={action.error} exceptAt={['password']} />
    </section>
  );
}
