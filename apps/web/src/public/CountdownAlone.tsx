import type { PublicEvent } from '@heliphon/contracts/public-event';
import { longDay } from '../words/public-time.js';
import { Countdown } from './Countdown.js';
import { useNow } from './useNow.js';
import { say } from '../words/say.js';

interface CountdownAloneProps {
  readonly event: PublicEvent;
  readonly clockOffsetMs: number;
}

/** The countdown as an embed of its own, in any size from 200 px: until it begins, then the way to the picture. */
export function CountdownAlone({ event, clockOffsetMs }: CountdownAloneProps) {
  const nowMs = useNow(clockOffsetMs);
  const isAhead = event.state === 'planned' || event.state === 'doors';
  return (
    <main
      data-state={event.state}
      className="relative grid min-h-[max(200px,100dvh)] place-items-center bg-[var(--player-deep)] text-center text-[var(--player-ink)]"
    >
      {event.posterUrl && (
        <img src={event.posterUrl} alt="" className="absolute inset-0 h-full w-full object-cover" />
      )}
      <div className="relative grid h-full w-full place-content-center gap-2 bg-[rgb(8_13_24/76%)] p-3">
        <h1 className="font-serif text-[clamp(1.0625rem,6vw,1.5rem)] leading-tight font-semibold">
          {event.title}
        </h1>
        {isAhead && <Countdown event={event} leftMs={event.beginsAtMs - nowMs} isAlone />}
        {event.state === 'cancelled' && <p>{event.notice ?? say('event.cancelled')}</p>}
        {event.state === 'kept' && (
          <p>{say('event.wasOn', { day: longDay(event.airAtMs ?? event.startsAtMs) })}</p>
        )}
        {event.state !== 'cancelled' && (
          <a
            href={`/watch/${event.slug}`}
            target="_top"
            className="inline-flex min-h-[46px] items-center justify-self-center font-semibold underline underline-offset-4"
          >
            {event.state === 'air'
              ? say('event.onAirWatch')
              : event.state === 'kept'
                ? say('event.seeAgain')
                : say('event.openPage')}
          </a>
        )}
      </div>
    </main>
  );
}
