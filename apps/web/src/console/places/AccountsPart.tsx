import { useEffect, useState } from 'react';
import type { AccountView, OutletView } from '@heliphon/contracts/accounts';
import { shortDay } from '@heliphon/contracts/time-words';
import { askForAccounts, useAccounts, usePlatforms } from '../../data/accounts.js';
import { useCan, useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { Empty, Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { ACCOUNTS_TEXT } from '../../words/console/accounts.js';
import { onLinked, openConsent } from './consent-window.js';
import { OutletChoice } from './OutletChoice.js';
import { PostedAhead } from './PostedAhead.js';
import { Unlinking } from './Unlinking.js';

/** Accounts at platforms, each with what is used of it; nothing where this installation is known at no platform. */
export function AccountsPart() {
  const platforms = usePlatforms().data?.items ?? [];
  const { data, error, mutate } = useAccounts();
  useEffect(() => onLinked(() => void askForAccounts()), []);
  if (platforms.length === 0 && (data?.items.length ?? 0) === 0) return null;
  return (
    <section aria-label={ACCOUNTS_TEXT.linkedAccounts} className="mt-6 border-t border-line pt-4">
      <div className="flex flex-wrap items-center gap-3 pb-2">
        <h2 className="flex-1 text-[22px]">{ACCOUNTS_TEXT.linkedAccounts}</h2>
        <LinkButtons platforms={platforms} />
      </div>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={ACCOUNTS_TEXT.theAccounts} />}
      {data?.items.length === 0 && <Empty>{ACCOUNTS_TEXT.noneYet}</Empty>}
      {data?.items.map((account) => (
        <Account key={account.id} account={account} />
      ))}
    </section>
  );
}

function LinkButtons({
  platforms,
}: {
  platforms: readonly { readonly kind: string; readonly name: string }[];
}) {
  const canEdit = useCan('destinations.edit');
  const action = useAction();
  if (!canEdit) return null;
  return (
    <>
      {platforms.map(({ kind, name }) => (
        <Button key={kind} disabled={action.isBusy} onClick={() => void action.run(() => openConsent(kind))}>
          {ACCOUNTS_TEXT.linkAt(name)}
        </Button>
      ))}
      <Fault error={action.error} />
    </>
  );
}

function Account({ account }: { account: AccountView }) {
  const canEdit = useCan('destinations.edit');
  const [isOpen, setOpen] = useState(false);
  const [isUnlinking, setUnlinking] = useState(false);
  const action = useAction();
  const { id, name, platform, platformName, endedAtMs, outletCount, chosen } = account;
  return (
    <article className="border-t border-line py-4">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <div className="flex flex-1 basis-64 items-center gap-4">
          <Mark name={endedAtMs === null ? 'passed' : 'trouble'} />
          <div>
            <h3 className="text-[19px]">{ACCOUNTS_TEXT.at(name, platformName ?? platform)}</h3>
            <p className="text-ink-soft">
              <Standing account={account} /> · {ACCOUNTS_TEXT.outlets(outletCount)}
            </p>
          </div>
        </div>
        {canEdit && (
          <>
            {platformName !== null && (
              <Button
                kind={endedAtMs === null ? 'plain' : 'mend'}
                disabled={action.isBusy}
                onClick={() => void action.run(() => openConsent(platform, id))}
              >
                {ACCOUNTS_TEXT.linkAgain}
              </Button>
            )}
            <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
              {isOpen ? ACCOUNTS_TEXT.close : ACCOUNTS_TEXT.choose}
            </Button>
          </>
        )}
      </div>
      <Fault error={action.error} />
      {isOpen ? (
        <div className="grid gap-4 pt-3 pl-8">
          <OutletChoice account={account} />
          {isUnlinking ? (
            <Unlinking account={account} onClose={() => setUnlinking(false)} />
          ) : (
            <Button className="justify-self-start" onClick={() => setUnlinking(true)}>
              {ACCOUNTS_TEXT.unlink}
            </Button>
          )}
        </div>
      ) : (
        <ul className="pl-8">
          {chosen.length === 0 && <li className="text-ink-soft">{ACCOUNTS_TEXT.noneChosen}</li>}
          {chosen.map((outlet) => (
            <ChosenOutlet key={outlet.id} outlet={outlet} />
          ))}
        </ul>
      )}
    </article>
  );
}

/** Whether the consent is good, and who sees what it lets us post. */
function Standing({
  account: { consentEndsAtMs, endedAtMs, audience, platformName },
}: {
  account: AccountView;
}) {
  const zone = useZone();
  if (platformName === null) return ACCOUNTS_TEXT.platformGone;
  if (endedAtMs !== null)
    return <b className="text-rust">{ACCOUNTS_TEXT.consentEnded(shortDay(endedAtMs, zone))}</b>;
  const seen =
    audience === 'only-me' ? ACCOUNTS_TEXT.onlyMe : audience === 'friends' ? ACCOUNTS_TEXT.friends : null;
  return (
    <>
      {ACCOUNTS_TEXT.consentLasts(shortDay(consentEndsAtMs, zone))}
      {seen && <b className="text-plum"> · {seen}</b>}
    </>
  );
}

function ChosenOutlet({ outlet }: { outlet: OutletView }) {
  const { name, kind, hasLetIn, isThere } = outlet;
  const wrong = !isThere ? ACCOUNTS_TEXT.isNotThere : !hasLetIn ? ACCOUNTS_TEXT.hasNotLetIn : null;
  return (
    <li className="flex flex-wrap items-center gap-x-3 py-1">
      <Mark name={wrong ? 'caution' : 'planned'} />
      <span>{name}</span>
      <span className="text-ink-soft">{ACCOUNTS_TEXT.kind(kind)}</span>
      {wrong && <span className="text-plum">{wrong}</span>}
      <PostedAhead outlet={outlet} />
    </li>
  );
}
