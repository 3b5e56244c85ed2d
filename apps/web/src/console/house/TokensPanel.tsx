import { type FormEvent, useState } from 'react';
import type { Capability } from '@heliphon/core/access/capabilities';
import { type MadeToken, TOKEN_DAYS } from '@heliphon/contracts/people';
import { endToken, makeToken, useOwnTokens } from '../../data/own.js';
import { useSession, useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { TextField } from '../../ui/Field.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { CAPABILITY_WORDS } from '../../words/roles.js';
import { shortDay } from '@heliphon/contracts/time-words';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** Personal access tokens: for programs that work in one's name, with as little as they need. */
export function TokensPanel() {
  const zone = useZone();
  const { data, error, mutate } = useOwnTokens();
  const [isMaking, setMaking] = useState(false);
  const [made, setMade] = useState<MadeToken | null>(null);
  const action = useAction();
  return (
    <section aria-label={HOUSE_TEXT.accessTokens}>
      <div className="mb-1 flex items-center gap-4">
        <h2 className="text-[19px]">{HOUSE_TEXT.accessTokens}</h2>
        <span className="flex-1" />
        {!isMaking && <Button onClick={() => setMaking(true)}>{HOUSE_TEXT.makeAToken}</Button>}
      </div>
      {made && (
        <div role="status" className="mb-3 grid gap-2 rounded-md border border-plum bg-plum-wash p-4">
          <p>{HOUSE_TEXT.copyItNowItWill}</p>
          <CopyField label={made.token.name} value={made.secret} what={HOUSE_TEXT.theToken} />
          <Button className="justify-self-start" onClick={() => setMade(null)}>
            {HOUSE_TEXT.iHaveCopiedIt}
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
      {!data && !error && <Loading what={HOUSE_TEXT.theTokens} rows={2} />}
      {data?.items.length === 0 && <p className="text-ink-soft">{HOUSE_TEXT.noneYetOtherProgramsNeed}</p>}
      <ul>
        {data?.items.map((token) => (
          <li key={token.id} className="flex flex-wrap items-center gap-4 border-t border-line py-2.5">
            <span className="flex-1">
              <b>{token.name}</b>{' '}
              <span className="text-ink-soft">
                {HOUSE_TEXT.scopesUntil(
                  token.scopes?.map((scope) => CAPABILITY_WORDS[scope]).join(', ') ??
                    HOUSE_TEXT.everythingYouCanDo,
                  shortDay(token.expiresAtMs, zone),
                )}{' '}
                {token.lastUsedAtMs
                  ? HOUSE_TEXT.lastUsed2(shortDay(token.lastUsedAtMs, zone))
                  : HOUSE_TEXT.neverUsed}
              </span>
            </span>
            <Button onClick={() => void action.run(() => endToken(token.id))}>
              Revoke<span className="sr-only">: {token.name}</span>
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
          label={HOUSE_TEXT.whatItIsFor}
          needed
          autoFocus
          value={name}
          error={fieldSentence(action.error, 'name')}
          onChange={(typed) => setName(typed.target.value)}
        />
        <TextField
          label={HOUSE_TEXT.days}
          type="number"
          min={1}
          max={TOKEN_DAYS.most}
          value={days}
          error={fieldSentence(action.error, 'days')}
          onChange={(typed) => setDays(typed.target.valueAsNumber || 1)}
        />
      </div>
      <fieldset className="grid gap-1 sm:grid-cols-2">
        <legend className="mb-1 font-semibold">{HOUSE_TEXT.whatItMayDo}</legend>
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
          {HOUSE_TEXT.makeTheToken}
        </Button>
        <Button onClick={onClose}>{HOUSE_TEXT.cancel}</Button>
      </div>
    </form>
  );
}
