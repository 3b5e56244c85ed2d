import type { PublicEvent } from '@heliphon/contracts/public-event';
import { lazy, Suspense, useState } from 'react';
import { countdown, dayAndTime, timeOfDay } from '@heliphon/contracts/time-words';
import type { PlayerChapter } from '../player/player-state.js';
import { useNow } from './useNow.js';
import { WATCH_TEXT } from '../words/public/watch.js';

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
      <Suspense fallback={<Poster url={event.posterUrl} />}>
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
  return (
    <div className="relative aspect-video overflow-hidden bg-[var(--player-deep)]" data-state={event.state}>
      {event.posterUrl && <img src={event.posterUrl} alt="" className="h-full w-full object-cover" />}
      <div
        className={`absolute inset-0 grid place-items-center p-4 text-center text-[var(--house-ink)] ${event.posterUrl ? 'bg-[rgb(8_13_24/72%)]' : ''}`}
      >
        <Waiting event={event} clockOffsetMs={clockOffsetMs} />
      </div>
    </div>
  );
}

const Poster = ({ url }: { url: string | null }) => (
  <div className="aspect-video bg-[var(--player-deep)]">
    {url && <img src={url} alt="" className="h-full w-full object-cover" />}
  </div>
);

function Waiting({ event, clockOffsetMs }: Pick<StageProps, 'event' | 'clockOffsetMs'>) {
  const nowMs = useNow(clockOffsetMs);
  const movedFromMs = useMovedFrom(event);
  const moved = movedFromMs !== null && (
    <p role="status" className="mt-3 text-[clamp(16px,2.4vw,20px)]">
      {WATCH_TEXT.timeHasChanged(dayAndTime(movedFromMs))}
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
          <p>{WATCH_TEXT.thisEventWillNotTake}</p>
          {event.notice && <p className="mt-3 text-[0.8em] whitespace-pre-line">{event.notice}</p>}
        </div>
      );
    case 'air':
    case 'kept':
      return (
        <p className="max-w-[40ch] text-[clamp(18px,3vw,24px)]">{WATCH_TEXT.thisEventHasFinishedThere}</p>
      );
  }
}

/** When it was to begin when somebody began to wait here; `null` while that has not changed. */
function useMovedFrom({ chat: { eventId }, startsAtMs }: PublicEvent): number | null {
  const [first, setFirst] = useState({ eventId, startsAtMs });
  // The address of a series shows another event in time.
  if (first.eventId !== eventId) setFirst({ eventId, startsAtMs });
  return first.eventId !== eventId || first.startsAtMs === startsAtMs ? null : first.startsAtMs;
}

const RADIUS = 44;
const ROUND = 2 * Math.PI * RADIUS;

/** Counts from the day an event is published; from the doors on, a ring closes over the time that is left. */
function Countdown({ event, leftMs }: { event: PublicEvent; leftMs: number }) {
  const { figure, unit } = countdown(leftMs);
  const wholeMs = Math.max(1, event.beginsAtMs - event.doorsAtMs);
  const when = event.state === 'planned' ? dayAndTime(event.startsAtMs) : `at ${timeOfDay(event.startsAtMs)}`;
  const open = Math.min(1, Math.max(0, leftMs / wholeMs));
  return (
    <div role="timer" aria-label={leftMs > 0 ? WATCH_TEXT.toGo(figure, unit) : WATCH_TEXT.startingAnyMoment}>
      <svg viewBox="0 0 100 100" className="mx-auto w-[min(200px,27vw)]" aria-hidden="true">
        <circle
          cx="50"
          cy="50"
          r={RADIUS}
          fill="none"
          stroke="var(--house-ink)"
          strokeOpacity=".3"
          strokeWidth="5"
        />
        <circle
          cx="50"
          cy="50"
          r={RADIUS}
          fill="none"
          stroke="var(--house-warm)"
          strokeWidth="6"
          strokeLinecap="round"
          strokeDasharray={ROUND}
          strokeDashoffset={ROUND * open}
          transform="rotate(-90 50 50)"
        />
        <text
          x="50"
          y="53"
          textAnchor="middle"
          className="fill-[var(--house-ink)] font-serif"
          fontSize="26"
          fontWeight="600"
        >
          {leftMs > 0 ? figure : '…'}
        </text>
        <text x="50" y="68" textAnchor="middle" className="fill-[var(--house-ink)]" fontSize="11">
          {leftMs > 0 ? unit : WATCH_TEXT.anyMoment}
        </text>
      </svg>
      <p className="mt-2 text-[clamp(16px,2.4vw,20px)]">
        {event.beginsAtMs < event.startsAtMs
          ? WATCH_TEXT.weStartWithAShort(when)
          : WATCH_TEXT.weStartThisPageStarts(when)}
      </p>
    </div>
  );
}
