import { useOwnSessions, endSession } from '../../data/own.js';
import { useCan, useSession, useZone, switchHouse } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { CalendarPanel } from './CalendarPanel.js';
import { LettersPanel } from './LettersPanel.js';
import { SecondFactorPanel } from './SecondFactorPanel.js';
import { TokensPanel } from './TokensPanel.js';
import { WebhookPanel } from './WebhookPanel.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** How one gets in oneself: where one is signed in, the second factor, tokens for programs, and one's calendar. */
export function AccessPart() {
  const { data: session } = useSession();
  const canEditHouse = useCan('house.edit');
  return (
    <div className="grid max-w-4xl gap-8">
      <SessionsPanel />
      <SecondFactorPanel isOn={session?.hasSecondFactor ?? false} />
      <TokensPanel />
      <CalendarPanel />
      <LettersPanel />
      {canEditHouse && <WebhookPanel />}
      {session && session.houses.length > 1 && (
        <section aria-label={HOUSE_TEXT.otherHouses}>
          <h2 className="mb-2 text-[19px]">{HOUSE_TEXT.otherHousesOfYours}</h2>
          <div className="flex flex-wrap gap-3">
            {session.houses
              .filter(({ id }) => id !== session.house.id)
              .map(({ id, name }) => (
                <Button key={id} onClick={() => void switchHouse(id)}>
                  {HOUSE_TEXT.goTo(name)}
                </Button>
              ))}
          </div>
        </section>
      )}
    </div>
  );
}

function SessionsPanel() {
  const zone = useZone();
  const { data, error, mutate } = useOwnSessions();
  const action = useAction();
  return (
    <section aria-label={HOUSE_TEXT.whereYouAreSignedIn}>
      <h2 className="mb-1 text-[19px]">{HOUSE_TEXT.whereYouAreSignedIn}</h2>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={HOUSE_TEXT.theSessions} rows={2} />}
      <ul>
        {data?.items.map((entry) => (
          <li key={entry.id} className="flex flex-wrap items-center gap-4 border-t border-line py-2.5">
            <span className="flex-1">
              <b>{entry.device || HOUSE_TEXT.aProgram}</b>{' '}
              <span className="text-ink-soft">
                {entry.isThisOne
                  ? HOUSE_TEXT.thisOne
                  : HOUSE_TEXT.lastUsed(dayAndTime(entry.lastUsedAtMs ?? entry.createdAtMs, zone))}
              </span>
            </span>
            {!entry.isThisOne && (
              <Button onClick={() => void action.run(() => endSession(entry.id))}>
                {HOUSE_TEXT.signOut}
                <span className="sr-only">: {entry.device}</span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Fault error={action.error} />
    </section>
  );
}
