import type { PublicEvent } from '@heliphon/contracts/public-event';
import { lazy, Suspense, useState } from 'react';
import { dayAndTime } from '../words/public-time.js';
import type { PlayerChapter } from '../player/player-state.js';
import { Countdown } from './Countdown.js';
import { useNow } from './useNow.js';
import { say } from '../words/say.js';

/** Most events are for everybody. */
const Refused = lazy(() => import('./Refused.js').then((module) => ({ default: module.Refused })));
/** The player comes when there is something to play; the poster needs nothing of it. */
const Player = lazy(() => import('../player/Player.js').then((module) => ({ default: module.Player })));

interface StageProps {
  readonly event: PublicEvent;
  readonly clockOffsetMs: number;
  readonly onDenied: () => void;
  readonly chapters: readonly PlayerChapter[];
  readonly hasChapterChoice?: boolean;
  readonly onDate?: (dateMs: number | null) => void;
  readonly onReady?: (seekToDate: (dateMs: number) => void) => void;
}

/** What stands where the picture will be: poster, countdown, picture or replay, in turn and by itself. */
export function Stage({ event, clockOffsetMs, ...player }: StageProps) {
  if (event.playback) {
    return (
      <Suspense fallback={<Poster url={event.posterUrl} hasBar />}>
        <Player
          source={event.playback}
          title={event.title}
          posterUrl={event.posterUrl}
          pictureIsAway={event.signal?.present === false}
          {...player}
        />
      </Suspense>
    );
  }
  if (event.refusal) {
    return (
      <Suspense fallback={<Poster url={event.posterUrl} />}>
        <Refused event={event} refusal={event.refusal} onAdmitted={player.onDenied} />
      </Suspense>
    );
  }
  return (
    <div className="relative aspect-video overflow-hidden bg-[var(--player-deep)]" data-state={event.state}>
      {event.posterUrl && <img src={event.posterUrl} alt="" className="h-full w-full object-cover" />}
      <div
        className={`absolute inset-0 grid place-items-center p-4 text-center text-[var(--player-ink)] ${event.posterUrl ? 'bg-[rgb(8_13_24/72%)]' : ''}`}
      >
        <Waiting event={event} clockOffsetMs={clockOffsetMs} />
      </div>
    </div>
  );
}

/** @param hasBar - the controls come under it: what stands below is not to move then */
const Poster = ({ url, hasBar = false }: { url: string | null; hasBar?: boolean }) => (
  <div className="bg-[var(--player)]">
    <div className="aspect-video bg-[var(--player-deep)]">
      {url && <img src={url} alt="" className="h-full w-full object-cover" />}
    </div>
    {hasBar && <div className="player-bar" />}
  </div>
);

function Waiting({ event, clockOffsetMs }: Pick<StageProps, 'event' | 'clockOffsetMs'>) {
  const nowMs = useNow(clockOffsetMs);
  const movedFromMs = useMovedFrom(event);
  const moved = movedFromMs !== null && (
    <p role="status" className="mt-3 text-[clamp(16px,2.4vw,20px)]">
      {say('event.timeHasChanged', { when: dayAndTime(movedFromMs) })}
    </p>
  );
  switch (event.state) {
    case 'planned':
    case 'doors':
      return (
        <div>
          <Countdown event={event} leftMs={event.beginsAtMs - nowMs} />
          {moved}
        </div>
      );
    case 'cancelled':
      return (
        <div className="max-w-[40ch] text-[clamp(18px,3vw,26px)]">
          <p>{say('event.cancelled')}</p>
          {event.notice && (
            <p dir="auto" className="mt-3 text-[0.8em] whitespace-pre-line">
              {event.notice}
            </p>
          )}
        </div>
      );
    case 'air':
      return null; // the picture is on its way
    case 'kept':
      return <p className="max-w-[40ch] text-[clamp(18px,3vw,24px)]">{say('event.noReplay')}</p>;
  }
}

/** When it was to begin when somebody began to wait here; `null` while that has not changed. */
function useMovedFrom({ chat: { eventId }, startsAtMs }: PublicEvent): number | null {
  const [first, setFirst] = useState({ eventId, startsAtMs });
  // The address of a series shows another event in time.
  if (first.eventId !== eventId) setFirst({ eventId, startsAtMs });
  return first.eventId !== eventId || first.startsAtMs === startsAtMs ? null : first.startsAtMs;
}
