import { type FormEvent, useState } from 'react';
import { useParams } from 'react-router';
import useSWR from 'swr';
import { type OpenedInvitation, PASSWORD_LENGTH } from '@heliphon/contracts/people';
import { ask } from '../../data/api.js';
import { signIn } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Wordmark } from '../../ui/Mark.js';
import { Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence, problemSentence } from '../../words/problems.js';
import { SIGN_IN_TEXT } from '../../words/console/sign-in.js';

/** Where the link of a letter leads: into a house, or to a new password. */
export function WelcomePage() {
  const { secret = '' } = useParams();
  const path = `/api/welcome/${encodeURIComponent(secret)}`;
  const { data, error } = useSWR<OpenedInvitation>(path, ask, { shouldRetryOnError: false });
  return (
    <main className="grid min-h-screen place-items-center bg-ground p-6 text-ink">
      <div className="grid w-[min(440px,100%)] gap-4">
        <Wordmark />
        {!data && !error && <Loading what={SIGN_IN_TEXT.theLetter} rows={2} />}
        {error && (
          <>
            <h1 className="mt-4 text-[27px]">{SIGN_IN_TEXT.thisLinkDoesNotWork}</h1>
            <p role="alert">{problemSentence(error)}</p>
            <a className={buttonClass('main', true)} href="/">
              {SIGN_IN_TEXT.goToSignIn}
            </a>
          </>
        )}
        {data && <AcceptForm invitation={data} path={path} />}
      </div>
    </main>
  );
}

function AcceptForm({ invitation, path }: { invitation: OpenedInvitation; path: string }) {
  const { kind, houseName, email, needsPassword } = invitation;
  const [name, setName] = useState(invitation.name);
  const [password, setPassword] = useState('');
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => {
      await ask(path, { method: 'POST', body: needsPassword ? { name, password } : {} });
      // A second factor is asked for on the sign-in page itself.
      if (needsPassword) await signIn({ email, password }).catch(() => undefined);
      location.assign('/');
    });
  };
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      <h1 className="mt-4 text-[27px]">
        {kind === 'join' ? SIGN_IN_TEXT.welcomeTo(houseName) : SIGN_IN_TEXT.chooseANewPassword}
      </h1>
      <p className="text-ink-soft">{SIGN_IN_TEXT.for(email)}</p>
      {kind === 'join' && needsPassword && (
        <TextField
          label={SIGN_IN_TEXT.yourName}
          value={name}
          error={fieldSentence(action.error, 'name')}
          onChange={(typed) => setName(typed.target.value)}
        />
      )}
      {needsPassword && (
        <TextField
          label={SIGN_IN_TEXT.password}
          needed
          type="password"
          autoComplete="new-password"
          value={password}
          hint={SIGN_IN_TEXT.atLeastCharactersFourRandom(PASSWORD_LENGTH.least)}
          error={fieldSentence(action.error, 'password')}
          onChange={(typed) => setPassword(typed.target.value)}
        />
      )}
      <Fault error={action.error} exceptAt={['password']} />
      <Button kind="main" large type="submit" disabled={action.isBusy}>
        {kind === 'join' ? SIGN_IN_TEXT.joinTheHouse : SIGN_IN_TEXT.saveThePassword}
      </Button>
    </form>
  );
}
