import { useEffect, useState } from 'react';
import type { WatchRules } from '@heliphon/core/access/watch-rules';
import type { TryOut } from '@heliphon/contracts/try-out';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { seeAs } from '../../data/watching.js';
import { CheckField, SelectField } from '../../ui/Field.js';
import { Empty, Failed } from '../../ui/states.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';
import { PageFrame } from '../inherited/PageFrame.js';
import { COUNTRIES } from './country-names.js';

interface SeenAsPartProps {
  readonly path: string;
  /** As they are kept: what is only typed yet is for nobody. */
  readonly rules: WatchRules;
  readonly version: number;
}

/** Stands for any website that is not named. */
const ANOTHER = 'another-website.example';
const WIDTH_PX = 820;

/** The page as the public sees it, somebody in a country, or on a website, without the password or with it. */
export function SeenAsPart({ path, rules, version }: SeenAsPartProps) {
  const [country, setCountry] = useState('');
  const [site, setSite] = useState('');
  const [knowsPassword, setKnowsPassword] = useState(false);
  const [isInvited, setIsInvited] = useState(false);
  const [seen, setSeen] = useState<PublicEvent | null | undefined>(undefined);
  const [error, setError] = useState<unknown>(null);
  useEffect(() => {
    let isOver = false;
    setError(null);
    seeAs(path, { country: country || null, site: site || null, knowsPassword, isInvited }).then(
      ({ event }) => !isOver && setSeen(event),
      (failed: unknown) => !isOver && setError(failed),
    );
    return () => {
      isOver = true;
    };
  }, [path, version, country, site, knowsPassword, isInvited]);
  const hosts = rules.sites?.hosts.filter((host) => !host.startsWith('*')) ?? [];
  return (
    <section aria-label={WATCHING_TEXT.seeItAs} className="grid min-w-0 content-start gap-3">
      <h2 className="font-sans text-[15px] font-semibold">{WATCHING_TEXT.seeItAs}</h2>
      <div className="grid gap-3 sm:grid-cols-2">
        <SelectField
          label={WATCHING_TEXT.fromCountry}
          value={country}
          onChange={setCountry}
          options={[
            { value: '', label: WATCHING_TEXT.countryUnknown },
            ...COUNTRIES.map(({ code, name }) => ({ value: code, label: name })),
          ]}
        />
        <SelectField
          label={WATCHING_TEXT.onPage}
          value={site}
          onChange={setSite}
          options={[
            { value: '', label: WATCHING_TEXT.itsOwnPage },
            ...hosts.map((host) => ({ value: host, label: host })),
            { value: ANOTHER, label: WATCHING_TEXT.onAnotherWebsite },
          ]}
        />
      </div>
      <div className="flex flex-wrap gap-x-6 gap-y-1">
        <CheckField label={WATCHING_TEXT.knowsPassword} value={knowsPassword} onChange={setKnowsPassword} />
        <CheckField label={WATCHING_TEXT.isInvited} value={isInvited} onChange={setIsInvited} />
      </div>
      {error !== null && <Failed error={error} />}
      {seen === null && <Empty>{WATCHING_TEXT.noPageYet}</Empty>}
      {seen && <SeenPage event={seen} />}
    </section>
  );
}

function SeenPage({ event }: { event: PublicEvent }) {
  const [tryOut, setTryOut] = useState<TryOut>({ type: 'seen-as', event });
  useEffect(() => setTryOut({ type: 'seen-as', event }), [event]);
  return (
    <PageFrame
      key={event.slug}
      slug={event.slug}
      title={WATCHING_TEXT.thePageAsSeen}
      tryOut={tryOut}
      widthPx={WIDTH_PX}
    />
  );
}
