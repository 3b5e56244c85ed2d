import { lazy, Suspense, useEffect, useState } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { whenIdle } from './when-idle.js';
import { say } from '../words/say.js';

const load = () => import('./HelpPanel.js');
const HelpPanel = lazy(() => load().then((module) => ({ default: module.HelpPanel })));

/** The way to help where sound or picture is missing. It is fetched ahead of its time: the line may be what is broken. */
export function HelpCheck({ event }: { event: PublicEvent }) {
  const [isOpen, setOpen] = useState(false);
  useEffect(() => whenIdle(() => void load().catch(() => undefined)), []);
  if (isOpen) {
    return (
      <Suspense>
        <HelpPanel event={event} onClose={() => setOpen(false)} />
      </Suspense>
    );
  }
  return (
    <button type="button" className="public-link" onClick={() => setOpen(true)}>
      {say('help.title')}
    </button>
  );
}
