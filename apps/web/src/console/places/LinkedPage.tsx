import { useEffect, useRef, useState } from 'react';
import { Link, useLocation, useParams } from 'react-router';
import { finishLink } from '../../data/accounts.js';
import { Fault } from '../../ui/states.js';
import { ACCOUNTS_TEXT } from '../../words/console/accounts.js';
import { tellLinked } from './consent-window.js';

/** Where a browser comes back from a platform's consent: it closes by itself once the account is linked. */
export function LinkedPage() {
  const { platform = '' } = useParams();
  const { search } = useLocation();
  const [state, setState] = useState<'linking' | 'linked' | { error: unknown }>('linking');
  const isAsked = useRef(false);
  useEffect(() => {
    // An answer is good once.
    if (isAsked.current) return;
    isAsked.current = true;
    finishLink(platform, search).then(
      () => {
        setState('linked');
        tellLinked();
      },
      (error: unknown) => setState({ error }),
    );
  }, [platform, search]);
  return (
    <main className="mx-auto grid max-w-lg gap-4 p-8" aria-live="polite">
      {state === 'linking' && <h1 className="text-[22px]">{ACCOUNTS_TEXT.linking}</h1>}
      {state === 'linked' && (
        <>
          <h1 className="text-[22px]">{ACCOUNTS_TEXT.isLinked}</h1>
          <p>{ACCOUNTS_TEXT.closesByItself}</p>
        </>
      )}
      {typeof state === 'object' && (
        <>
          <h1 className="text-[22px]">{ACCOUNTS_TEXT.notLinked}</h1>
          <Fault error={state.error} />
        </>
      )}
      {state !== 'linking' && (
        <Link to="/places" className="justify-self-start text-pine underline underline-offset-2">
          {ACCOUNTS_TEXT.backToPlaces}
        </Link>
      )}
    </main>
  );
}
