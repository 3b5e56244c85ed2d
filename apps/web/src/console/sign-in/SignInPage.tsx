import { type FormEvent, useState } from 'react';
import { ApiError, ask } from '../../data/api.js';
import { signIn } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Wordmark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence, problemSentence } from '../../words/problems.js';
import { SIGN_IN_TEXT } from '../../words/console/sign-in.js';

const isAbout = (error: unknown, prefix: string): boolean =>
  error instanceof ApiError && error.problem.code.startsWith(prefix);

/** Email and password; a code where the person has a second factor; a letter where the password is lost. */
export function SignInPage() {
  const [email, setEmail] = useState('');
  const [isForgotten, setForgotten] = useState(false);
  return (
    <main className="grid min-h-screen place-items-center bg-ground p-6 text-ink">
      <div className="grid w-[min(400px,100%)] gap-4">
        <Wordmark />
        {isForgotten ? (
          <ForgottenForm email={email} onEmail={setEmail} onBack={() => setForgotten(false)} />
        ) : (
          <SignInForm email={email} onEmail={setEmail} onForgotten={() => setForgotten(true)} />
        )}
      </div>
    </main>
  );
}

interface EmailProps {
  readonly email: string;
  readonly onEmail: (email: string) => void;
}

function EmailField({ email, onEmail, error }: EmailProps & { error: unknown }) {
  return (
    <TextField
      label={SIGN_IN_TEXT.email}
      type="email"
      autoComplete="username"
      value={email}
      error={fieldSentence(error, 'email')}
      onChange={(event) => onEmail(event.target.value)}
    />
  );
}

function SignInForm({ email, onEmail, onForgotten }: EmailProps & { onForgotten: () => void }) {
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const action = useAction();
  const wantsCode = code !== '' || isAbout(action.error, 'second-factor');
  const isAsking = isAbout(action.error, 'second-factor-needed');
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(() => signIn({ email, password, ...(code ? { code } : {}) }));
  };
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      <h1 className="mt-4 text-[27px]">{SIGN_IN_TEXT.signInToYourHouse}</h1>
      <EmailField email={email} onEmail={onEmail} error={action.error} />
      <TextField
        label={SIGN_IN_TEXT.password}
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      {wantsCode && (
        <TextField
          label={SIGN_IN_TEXT.code}
          autoFocus
          autoComplete="one-time-code"
          value={code}
          hint={isAsking ? problemSentence(action.error) : undefined}
          onChange={(event) => setCode(event.target.value)}
        />
      )}
      {!isAsking && <Fault error={action.error} exceptAt={['email']} />}
      <Button kind="main" large type="submit" disabled={action.isBusy}>
        {SIGN_IN_TEXT.signIn}
      </Button>
      <Button kind="quiet" onClick={onForgotten}>
        {SIGN_IN_TEXT.iveForgottenMyPassword}
      </Button>
    </form>
  );
}

function ForgottenForm({ email, onEmail, onBack }: EmailProps & { onBack: () => void }) {
  const [isSent, setSent] = useState(false);
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => {
      await ask('/api/password/forgotten', { method: 'POST', body: { email } });
      setSent(true);
    });
  };
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      <h1 className="mt-4 text-[27px]">{SIGN_IN_TEXT.aNewPassword}</h1>
      {isSent ? (
        <p role="status">{SIGN_IN_TEXT.anEmailIsOnItsWay(email)}</p>
      ) : (
        <>
          <EmailField email={email} onEmail={onEmail} error={action.error} />
          <Fault error={action.error} exceptAt={['email']} />
          <Button kind="main" large type="submit" disabled={action.isBusy}>
            {SIGN_IN_TEXT.sendMeAnEmail}
          </Button>
        </>
      )}
      <Button kind="quiet" onClick={onBack}>
        {SIGN_IN_TEXT.backToSignIn}
      </Button>
    </form>
  );
}
