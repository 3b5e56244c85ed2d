import { type FormEvent, useState } from 'react';
import type { Capability } from '@heliphon/core/access/capabilities';
import { type MadeToken, TOKEN_DAYS } from '@heliphon/contracts/people';
import { endToken, makeToken } from '../../data/commands.js';
import { useOwnTokens, useSession, useZone } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { TextField } from '../../ui/Field.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { CAPABILITY_WORDS } from '../../words/roles.js';
import { shortDay } from '@heliphon/contracts/time-words';

/** Personal access tokens: for programs that work in one's name, with as little as they need. */
export function TokensPanel() {
  const zone = useZone();
  const { data, error, mutate } = useOwnTokens();
  const [isMaking, setMaking] = useState(false);
  const [made, setMade] = useState<MadeToken | null>(null);
  const action = useAction();
  return (
    <section aria-label="Access tokens">
      <div className="mb-1 flex items-center gap-4">
        <h2 className="text-[19px]">Access tokens</h2>
        <span className="flex-1" />
        {!isMaking && <Button onClick={() => setMaking(true)}>Make a token</Button>}
      </div>
      {made && (
        <div role="status" className="mb-3 grid gap-2 rounded-md border border-plum bg-plum-wash p-4">
          <p>Copy it now: it is not shown again.</p>
          <CopyField label={made.token.name} value={made.secret} what="the token" />
          <Button className="justify-self-start" onClick={() => setMade(null)}>
            I have copied it
          </Button>
        </div>
      )}
      {isMaking && (
        <TokenForm
          onClose={() => setMaking(false)}
          onMade={(token) => {
            setMaking(false);
            setMade(token);
          }}
        />
      )}
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="the tokens" rows={2} />}
      {data?.items.length === 0 && (
        <p className="text-ink-soft">
          None yet. A program that plans events or reads figures in your name needs one.
        </p>
      )}
      <ul>
        {data?.items.map((token) => (
          <li key={token.id} className="flex flex-wrap items-center gap-4 border-t border-line py-2.5">
            <span className="flex-1">
              <b>{token.name}</b>{' '}
              <span className="text-ink-soft">
                {token.scopes
                  ? token.scopes.map((scope) => CAPABILITY_WORDS[scope]).join(', ')
                  : 'whatever you may do'}
                , until {shortDay(token.expiresAtMs, zone)},{' '}
                {token.lastUsedAtMs ? `last used ${shortDay(token.lastUsedAtMs, zone)}` : 'never used'}
              </span>
            </span>
            <Button onClick={() => void action.run(() => endToken(token.id))}>
              End it<span className="sr-only">: {token.name}</span>
            </Button>
          </li>
        ))}
      </ul>
      <Fault error={action.error} />
    </section>
  );
}

function TokenForm({ onClose, onMade }: { onClose: () => void; onMade: (made: MadeToken) => void }) {
  const { data: session } = useSession();
  const [name, setName] = useState('');
  const [days, setDays] = useState<number>(TOKEN_DAYS.usual);
  const [scopes, setScopes] = useState<readonly Capability[]>(['events.read']);
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => onMade(await makeToken({ name, days, scopes })));
  };
  return (
    <form onSubmit={submit} className="grid gap-3 border-t border-line py-4">
      <div className="grid gap-3 sm:grid-cols-[1fr_140px]">
        <TextField
          label="What it is for"
          needed
          autoFocus
          value={name}
          error={fieldSentence(action.error, 'name')}
          onChange={(typed) => setName(typed.target.value)}
        />
        <TextField
          label="Days"
          type="number"
          min={1}
          max={TOKEN_DAYS.most}
          value={days}
          error={fieldSentence(action.error, 'days')}
          onChange={(typed) => setDays(typed.target.valueAsNumber || 1)}
        />
      </div>
      <fieldset className="grid gap-1 sm:grid-cols-2">
        <legend className="mb-1 font-semibold">What it may do</legend>
        {session?.capabilities.map((capability) => (
          <label key={capability} className="flex min-h-7 items-center gap-2.5">
            <input
              type="checkbox"
              className="size-5 accent-[var(--pine)]"
              checked={scopes.includes(capability)}
              onChange={(typed) =>
                setScopes(
                  typed.target.checked
                    ? [...scopes, capability]
                    : scopes.filter((held) => held !== capability),
                )
              }
            />
            {CAPABILITY_WORDS[capability]}
          </label>
        ))}
      </fieldset>
      <Fault error={action.error} exceptAt={['name']} />
      <div className="flex gap-3">
        <Button kind="main" type="submit" disabled={action.isBusy || scopes.length === 0}>
          Make the token
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </form>
  );
}
