import { type FormEvent, useState } from 'react';
import { signIn } from '../../data/commands.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Wordmark } from '../../ui/Mark.js';
import { fieldSentence, problemSentence } from '../../words/problems.js';

export function SignInPage() {
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [error, setError] = useState<unknown>(null);
  const [isAsking, setAsking] = useState(false);
  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setAsking(true);
    setError(null);
    await signIn({ email, password }).catch(setError);
    setAsking(false);
  };
  const emailError = fieldSentence(error, 'email');
  return (
    <main className="grid min-h-screen place-items-center bg-ground p-6 text-ink">
      <form onSubmit={(event) => void submit(event)} className="grid w-[min(400px,100%)] gap-4" noValidate>
        <Wordmark />
        <h1 className="mt-4 text-[27px]">Sign in to your house</h1>
        <TextField
          label="Email"
          type="email"
          autoComplete="username"
          value={email}
          error={emailError}
          onChange={(event) => setEmail(event.target.value)}
        />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {error !== null && !emailError && (
          <p role="alert" className="text-rust">
            {problemSentence(error)}
          </p>
        )}
        <Button kind="main" large type="submit" disabled={isAsking}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
