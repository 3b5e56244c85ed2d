import { useEffect } from 'react';
import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { clock, dayAndTime, timeOfDay } from '@heliphon/contracts/time-words';
import { useEvents } from '../../data/events.js';
import { useLive } from '../../data/live.js';
import { useServerNow } from '../../data/server-clock.js';
import { useZone } from '../../data/session.js';
import { Mark } from '../../ui/Mark.js';
import { WALL_TEXT } from '../../words/console/wall.js';
import { useDesk } from '../desk/useDesk.js';

const HOUR_MS = 3_600_000;
/** The longest event, with its doors. */
const BACK_MS = 30 * HOUR_MS;
const AHEAD_MS = 7 * 24 * HOUR_MS;
/** Pushes refresh the list, so its bounds need not move every second. */
const STEP_MS = HOUR_MS;

/** Every programme of the house at once, for a monitor on the wall: readable from ten metres, nothing to press. */
export function WallPage() {
  const zone = useZone();
  const nowMs = useServerNow(1000);
  const hourMs = Math.floor(nowMs / STEP_MS) * STEP_MS;
  const { data } = useEvents(hourMs - BACK_MS, hourMs + AHEAD_MS);
  const { isConnected } = useLive();
  useStayAwake();
  const events = data?.items ?? [];
  const running = events.filter(({ state }) => state === 'air' || state === 'doors');
  const next = events.find(({ state, isDraft }) => state === 'planned' && !isDraft);
  return (
    <main data-light="booth" className="flex h-screen flex-col gap-3 overflow-hidden bg-ground p-4 text-ink">
      <header className="flex items-baseline justify-between gap-4">
        <h1 className="text-2xl">{WALL_TEXT.allOnAir}</h1>
        <p className="figures text-3xl">{timeOfDay(nowMs, zone)}</p>
      </header>
      {!isConnected && (
        <p role="status" className="text-center text-2xl font-bold text-rust">
          {WALL_TEXT.noNews}
        </p>
      )}
      {data && running.length === 0 && (
        <div className="m-auto grid gap-3 text-center">
          <p className="font-serif text-5xl">{WALL_TEXT.nothingIsOnAir}</p>
          {next && (
            <p className="text-3xl text-ink-soft">
              {WALL_TEXT.nextIs(next.title, dayAndTime(next.startsAtMs, zone))}
            </p>
          )}
          <Link to="/" className="text-xl text-ink-soft underline underline-offset-4">
            {WALL_TEXT.backToTheWeek}
          </Link>
        </div>
      )}
      <ul
        className="grid min-h-0 flex-1 auto-rows-fr gap-4"
        style={{ gridTemplateColumns: `repeat(${columnsFor(running.length)}, minmax(0, 1fr))` }}
      >
        {running.map((event) => (
          <Programme key={event.id} event={event} nowMs={nowMs} />
        ))}
      </ul>
    </main>
  );
}

/** As near to a square of tiles as there can be. */
const columnsFor = (count: number): number => Math.max(1, Math.ceil(Math.sqrt(count)));

function Programme({ event, nowMs }: { event: EventView; nowMs: number }) {
  const { programme, incoming, line, faults } = useDesk(event);
  const isAir = event.state === 'air';
  const isTroubled = isAir && (faults.length > 0 || line.trouble !== null);
  const hasPicture = programme?.viewersHave === 'picture' || !isAir;
  const picture = hasPicture
    ? (incoming?.pictureUrl ?? event.posterUrl)
    : `/api/events/${event.id}/slate/back?version=${event.version}`;
  return (
    <li
      className={`flex min-h-0 flex-col overflow-hidden rounded-md border-[3px] ${isTroubled ? 'border-rust' : isAir ? 'border-marigold' : 'border-edge'}`}
    >
      <div className="relative min-h-0 flex-1">
        {picture && <img src={picture} alt="" className="absolute inset-0 h-full w-full object-contain" />}
      </div>
      <div className="shrink-0 bg-surface px-4 py-2.5" role="status">
        <p className="flex items-center gap-3 text-[clamp(18px,2.2vw,34px)] font-bold">
          <Mark name={isTroubled ? 'trouble' : event.state} sizePx={28} />
          <Link to={`/events/${event.id}/air`} className="min-w-0 truncate">
            {event.title}
          </Link>
          <span className="flex-1" />
          <span className="figures shrink-0 font-normal">
            {isAir
              ? clock(nowMs - (event.airAtMs ?? nowMs))
              : WALL_TEXT.opensIn(clock(event.startsAtMs - event.filmMs - nowMs))}
          </span>
        </p>
        <p className="flex items-baseline gap-3 text-[clamp(16px,1.7vw,26px)] leading-snug">
          <span className="min-w-0 flex-1">
            {line.trouble ? <strong className="text-rust">{line.trouble}</strong> : line.seen}
          </span>
          {isAir && <span className="shrink-0">{WALL_TEXT.watching(programme?.viewers ?? 0)}</span>}
        </p>
      </div>
    </li>
  );
}

/** A monitor on the wall that goes dark tells nobody anything; where the browser cannot help, nothing is lost. */
function useStayAwake(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let isOver = false;
    const hold = (): void => {
      if (document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
      navigator.wakeLock.request('screen').then(
        (held) => {
          lock = held;
          if (isOver) void held.release();
        },
        () => undefined,
      );
    };
    hold();
    document.addEventListener('visibilitychange', hold);
    return () => {
      isOver = true;
      document.removeEventListener('visibilitychange', hold);
      void lock?.release();
    };
  }, []);
}
