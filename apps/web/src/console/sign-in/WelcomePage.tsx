import { type FormEvent, useState } from 'react';
import { useParams } from 'react-router';
import useSWR from 'swr';
import { type OpenedInvitation, PASSWORD_LENGTH } from '@heliphon/contracts/people';
import { ask } from '../../data/api.js';
import { signIn } from '../../data/commands.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Wordmark } from '../../ui/Mark.js';
import { Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence, problemSentence } from '../../words/problems.js';

/** Where the link of a letter leads: into a house, or to a new password. */
export function WelcomePage() {
  const { secret = '' } = useParams();
  const path = `/api/welcome/${encodeURIComponent(secret)}`;
  const { data, error } = useSWR<OpenedInvitation>(path, ask, { shouldRetryOnError: false });
  return (
    <main className="grid min-h-screen place-items-center bg-ground p-6 text-ink">
      <div className="grid w-[min(440px,100%)] gap-4">
        <Wordmark />
        {!data && !error && <Loading what="the letter" rows={2} />}
        {error && (
          <>
            <h1 className="mt-4 text-[27px]">This link opens nothing</h1>
            <p role="alert">{problemSentence(error)}</p>
            <a className={buttonClass('main', true)} href="/">
              Go to the sign-in
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
        {kind === 'join' ? `Welcome to ${houseName}` : 'Choose a new password'}
      </h1>
      <p className="text-ink-soft">for {email}</p>
      {kind === 'join' && needsPassword && (
        <TextField
          label="Your name"
          value={name}
          error={fieldSentence(action.error, 'name')}
          onChange={(typed) => setName(typed.target.value)}
        />
      )}
      {needsPassword && (
        <TextField
          label="Password"
          needed
          type="password"
          autoComplete="new-password"
          value={password}
          hint={`At least ${PASSWORD_LENGTH.least} characters. Four words that nobody would guess are good.`}
          error={fieldSentence(action.error, 'password')}
          onChange={(typed) => setPassword(typed.target.value)}
        />
      )}
      <Fault error={action.error} exceptAt={['password']} />
      <Button kind="main" large type="submit" disabled={action.isBusy}>
        {kind === 'join' ? 'Join the house' : 'Save the password'}
      </Button>
    </form>
  );
}
