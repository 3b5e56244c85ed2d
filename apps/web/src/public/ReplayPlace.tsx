import { useEffect, useRef, useState } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { duration } from '../words/public-time.js';
import { keepStopped, readStopped } from './stopped-place.js';
import { say } from '../words/say.js';

interface ReplayPlaceProps {
  readonly event: PublicEvent;
  /** The instant that is seen; `null` while there is no picture. */
  readonly dateMs: number | null;
  readonly onGoTo: (dateMs: number) => void;
}

const KEEP_EVERY_MS = 5000;

/** `#t=754`: seconds from the beginning, as W3C Media Fragments has it. */
const MOMENT = /^#t=(\d{1,6})$/;

/** Of a replay: goes to the moment that was shared, offers to go on where one stopped, and shares the moment that is seen. */
export function ReplayPlace({ event: { slug, airAtMs, endsAtMs }, dateMs, onGoTo }: ReplayPlaceProps) {
  const beganMs = airAtMs ?? 0;
  const [stoppedMs, setStoppedMs] = useState(() => readStopped(slug));
  const shared = useRef(MOMENT.exec(location.hash)?.[1]);
  const [told, setTold] = useState('');
  const isSeen = dateMs !== null;
  useEffect(() => {
    if (!isSeen || shared.current === undefined) return;
    onGoTo(beganMs + Number(shared.current) * 1000);
    shared.current = undefined;
    setStoppedMs(null);
  }, [isSeen, beganMs, onGoTo]);

  const latest = useRef(dateMs);
  useEffect(() => {
    latest.current = dateMs;
  });
  useEffect(() => {
    const keep = (): void => {
      if (latest.current !== null) keepStopped(slug, latest.current - beganMs, endsAtMs - beganMs);
    };
    const timer = window.setInterval(keep, KEEP_EVERY_MS);
    window.addEventListener('pagehide', keep);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener('pagehide', keep);
    };
  }, [slug, beganMs, endsAtMs]);

  if (!isSeen) return null;
  const share = async (): Promise<void> => {
    const seconds = Math.max(0, Math.floor((dateMs - beganMs) / 1000));
    const url = `${location.origin}/watch/${slug}#t=${seconds}`;
    try {
      // Neither is there on a page that came without encryption.
      const { share, clipboard } = navigator as Partial<Navigator>;
      if (share) return await share.call(navigator, { url });
      await clipboard!.writeText(url);
      setTold(say('event.momentCopied'));
    } catch {
      setTold(url); // to be copied by hand
    }
  };
  return (
    <>
      {stoppedMs !== null && (
        <button
          type="button"
          className="public-link"
          onClick={() => {
            onGoTo(beganMs + stoppedMs);
            setStoppedMs(null);
          }}
        >
          {say('event.goOnWhere', { length: duration(stoppedMs) })}
        </button>
      )}
      <button type="button" className="public-link" onClick={() => void share()}>
        {say('event.shareMoment')}
      </button>
      <span role="status" className="text-base break-all text-ink-soft">
        {told}
      </span>
    </>
  );
}
