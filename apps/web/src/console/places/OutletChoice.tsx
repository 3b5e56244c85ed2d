import { useState } from 'react';
import type { AccountView, OutletView } from '@heliphon/contracts/accounts';
import { chooseOutlet, lookAgain, useOutlets } from '../../data/accounts.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Fault, InsteadOfRows } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { ACCOUNTS_TEXT } from '../../words/console/accounts.js';

/** Ticks off where an account may be used; somebody may have thousands of pages. */
export function OutletChoice({ account }: { account: AccountView }) {
  const [named, setNamed] = useState('');
  /** The cursors of the pages before this one. */
  const [pages, setPages] = useState<readonly string[]>([]);
  const { data, error, mutate } = useOutlets(account.id, named, pages.at(-1) ?? null);
  const action = useAction();
  const look = (): void =>
    void action.run(async () => {
      await lookAgain(account.id);
      await mutate();
    });
  return (
    <div className="grid max-w-2xl gap-2">
      <div className="flex flex-wrap items-end gap-3">
        <div className="min-w-52 flex-1">
          <TextField
            label={ACCOUNTS_TEXT.find}
            type="search"
            value={named}
            onChange={(typed) => {
              setNamed(typed.target.value);
              setPages([]);
            }}
          />
        </div>
        <Button disabled={action.isBusy} onClick={look}>
          {ACCOUNTS_TEXT.lookAgain}
        </Button>
      </div>
      <ul aria-label={ACCOUNTS_TEXT.outletsOf(account.name)}>
        {(data?.items.length ?? 0) === 0 && (
          <InsteadOfRows
            error={error}
            onRetry={() => void mutate()}
            isLoading={!data}
            what={ACCOUNTS_TEXT.theAccounts}
            empty={ACCOUNTS_TEXT.nothingFound}
          />
        )}
        {data?.items.map((outlet) => (
          <OutletRow key={outlet.id} accountId={account.id} outlet={outlet} onSaved={() => mutate()} />
        ))}
      </ul>
      <div className="flex gap-3">
        {pages.length > 0 && (
          <Button onClick={() => setPages(pages.slice(0, -1))}>{ACCOUNTS_TEXT.earlier}</Button>
        )}
        {data?.next && <Button onClick={() => setPages([...pages, data.next!])}>{ACCOUNTS_TEXT.more}</Button>}
      </div>
      <Fault error={action.error} />
    </div>
  );
}

interface OutletRowProps {
  readonly accountId: string;
  readonly outlet: OutletView;
  /** Resolves once the list has it. */
  readonly onSaved: () => Promise<unknown>;
}

/** The tick is there at once, and goes again where it cannot be saved. */
function OutletRow({ accountId, outlet, onSaved }: OutletRowProps) {
  const [wished, setWished] = useState<boolean | null>(null);
  const action = useAction();
  const isChosen = wished ?? outlet.isChosen;
  const choose = (): void => {
    if (action.isBusy) return;
    setWished(!isChosen);
    void action
      .run(async () => {
        await chooseOutlet(accountId, outlet.id, !isChosen);
        await onSaved();
      })
      .then(() => setWished(null));
  };
  return (
    <li>
      <label className="flex min-h-10 flex-wrap items-center gap-x-3">
        <input type="checkbox" checked={isChosen} onChange={choose} className="size-5 accent-pine" />
        <span>{outlet.name}</span>
        <span className="text-ink-soft">{ACCOUNTS_TEXT.kind(outlet.kind)}</span>
        {!outlet.hasLetIn && <span className="text-[13px] text-plum">{ACCOUNTS_TEXT.hasNotLetIn}</span>}
      </label>
      <Fault error={action.error} isSmall />
    </li>
  );
}
