import type { PublicEvent } from '@heliphon/contracts/public-event';
import { countdown } from '@heliphon/contracts/time-words';
import { dayAndTime, timeOfDay, withClockThere } from '../words/public-time.js';
import { say } from '../words/say.js';

const RADIUS = 44;
const ROUND = 2 * Math.PI * RADIUS;

interface CountdownProps {
  readonly event: PublicEvent;
  readonly leftMs: number;
  /** No picture follows where it stands. */
  readonly isAlone?: boolean;
}

/** Counts from the day an event is published; from the doors on, a ring closes over the time that is left. */
export function Countdown({ event, leftMs, isAlone = false }: CountdownProps) {
  const left = countdown(leftMs);
  const { count } = left;
  const unit = say(`countdown.${left.unit}`, { count });
  const wholeMs = Math.max(1, event.beginsAtMs - event.doorsAtMs);
  const { startsAtMs, zone } = event;
  const own =
    event.state === 'planned' ? dayAndTime(startsAtMs) : say('time.at', { time: timeOfDay(startsAtMs) });
  const when = withClockThere(own, startsAtMs, zone);
  const open = Math.min(1, Math.max(0, leftMs / wholeMs));
  return (
    <div
      data-look="warm"
      role="timer"
      aria-label={leftMs > 0 ? say('countdown.toGo', { count, unit }) : say('countdown.startingAnyMoment')}
    >
      <svg viewBox="0 0 100 100" className="mx-auto w-[clamp(96px,27vw,200px)]" aria-hidden="true">
        <circle
          cx="50"
          cy="50"
          r={RADIUS}
          fill="none"
          stroke="var(--player-ink)"
          strokeOpacity=".3"
          strokeWidth="5"
        />
        <circle
          cx="50"
          cy="50"
          r={RADIUS}
          fill="none"
          stroke="var(--glow)"
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
          className="fill-[var(--player-ink)] font-serif"
          fontSize="26"
          fontWeight="600"
        >
          {leftMs > 0 ? count : '…'}
        </text>
        <text x="50" y="68" textAnchor="middle" className="fill-[var(--player-ink)]" fontSize="11">
          {leftMs > 0 ? unit : say('countdown.anyMoment')}
        </text>
      </svg>
      <p className="mt-2 text-[clamp(16px,2.4vw,20px)]">
        {isAlone
          ? say('countdown.weStart', { when })
          : event.beginsAtMs < event.startsAtMs
            ? say('countdown.filmFirst', { when })
            : say('countdown.startsByItself', { when })}
      </p>
    </div>
  );
}
