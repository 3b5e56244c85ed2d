import { useEffect, useRef } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { whenIdle } from './when-idle.js';

/** Keeps what stands at this address while it cannot be reached; when there is nothing more urgent, and again once it has changed. */
export function useSplash(event: PublicEvent): void {
  const latest = useRef(event);
  useEffect(() => {
    latest.current = event;
  });
  const { title, startsAtMs, state, look } = event;
  const { logoUrl, palette } = look;
  const colours = Object.values(palette).join();
  useEffect(
    () =>
      whenIdle(() => {
        void import('./offline-splash.js')
          .then(({ keepSplash }) => keepSplash(latest.current))
          .catch(() => undefined); // the browser's own words stand there then
      }),
    [title, startsAtMs, state, logoUrl, colours],
  );
}
