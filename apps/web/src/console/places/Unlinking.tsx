import { useState } from 'react';
import type { AccountUses, AccountView, Unlink } from '@heliphon/contracts/accounts';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { unlinkAccount, useAccountUses } from '../../data/accounts.js';
import { useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { ACCOUNTS_TEXT } from '../../words/console/accounts.js';

interface UnlinkingProps {
  readonly account: AccountView;
  readonly onClose: () => void;
}

/** What unlinking would do to what is planned, before it is done. */
export function Unlinking({ account, onClose }: UnlinkingProps) {
  const { data: uses, error, mutate } = useAccountUses(account.id);
  const [postings, setPostings] = useState<Unlink['postings']>('take-down');
  const action = useAction();
  const { id, name, platform, platformName } = account;
  const question = ACCOUNTS_TEXT.unlinkAccount(name, platformName ?? platform);
  return (
    <div
      role="group"
      aria-label={question}
      className="grid max-w-2xl gap-3 rounded-md border border-edge bg-sunk p-4"
    >
      <p>
        <b>{question}</b> {ACCOUNTS_TEXT.whatUnlinkingDoes}
      </p>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!uses && !error && <Loading what={ACCOUNTS_TEXT.theAccounts} />}
      {uses && <Planned uses={uses} />}
      {uses && uses.postingCount > 0 && (
        <PostingsWish count={uses.postingCount} wish={postings} onChange={setPostings} />
      )}
      <Fault error={action.error} />
      <div className="flex flex-wrap gap-3">
        <Button onClick={onClose}>{ACCOUNTS_TEXT.keepLinked}</Button>
        {uses && (
          <HoldButton
            onHeld={() =>
              void action.run(async () => {
                await unlinkAccount(id, { postings });
                onClose();
              })
            }
          >
            {ACCOUNTS_TEXT.unlinkHold}
          </HoldButton>
        )}
      </div>
    </div>
  );
}

function Planned({ uses: { events, eventCount, series } }: { uses: AccountUses }) {
  const zone = useZone();
  if (eventCount === 0 && series.length === 0) return <p>{ACCOUNTS_TEXT.nothingPlanned}</p>;
  return (
    <div>
      <p className="font-semibold">{ACCOUNTS_TEXT.noLongerGo}</p>
      <ul className="list-disc pl-5">
        {series.map(({ id, title }) => (
          <li key={id}>{ACCOUNTS_TEXT.seriesNoLonger(title)}</li>
        ))}
        {events.map(({ id, title, startsAtMs }) => (
          <li key={id}>
            {title} <span className="text-ink-soft">{dayAndTime(startsAtMs, zone)}</span>
          </li>
        ))}
        {eventCount > events.length && <li>{ACCOUNTS_TEXT.moreEvents(eventCount - events.length)}</li>}
      </ul>
    </div>
  );
}

interface PostingsWishProps {
  readonly count: number;
  readonly wish: Unlink['postings'];
  readonly onChange: (wish: Unlink['postings']) => void;
}

function PostingsWish({ count, wish, onChange }: PostingsWishProps) {
  const choice = (value: Unlink['postings'], words: string) => (
    <label className="flex min-h-9 items-center gap-2.5">
      <input
        type="radio"
        name="postings"
        className="size-5 accent-pine"
        checked={wish === value}
        onChange={() => onChange(value)}
      />
      {words}
    </label>
  );
  return (
    <fieldset>
      <legend className="font-semibold">{ACCOUNTS_TEXT.postingsThere(count)}</legend>
      {choice('take-down', ACCOUNTS_TEXT.takeDown(count))}
      {choice('leave', ACCOUNTS_TEXT.leave(count))}
      {wish === 'leave' && <p className="text-[13px] text-ink-soft">{ACCOUNTS_TEXT.leaveHint}</p>}
    </fieldset>
  );
}
