import { EVENT_LIMITS, type EventView } from '@heliphon/contracts/events';
import { chooseEnd, useReadiness } from '../../data/events.js';
import { useCan, useZone } from '../../data/session.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { DESK_TEXT } from '../../words/console/desk.js';

const ASKED_BEFORE_MS = 5 * 60_000;

/** Five minutes before its planned end the desk is asked; without an answer the event may run over as planned. */
export function NearEnd({ event }: { event: EventView }) {
  const nowMs = useServerNow(1000);
  const zone = useZone();
  const canMove = useCan('events.move');
  const action = useAction();
  const { data: readiness } = useReadiness(event.id);
  const next = readiness?.checks.find(
    ({ code, status }) => code === 'overrun' && status === 'advises',
  )?.detail;
  const isNear = event.state === 'air' && nowMs > event.stopsAtMs - ASKED_BEFORE_MS;
  if (!isNear || event.overrunMinutes === 0) return null;
  const at = (ms: number): string => timeOfDay(ms, zone);
  const answer = (wish: 'longer' | 'on-time') => (): void => void action.run(() => chooseEnd(event, wish));
  const isOver = nowMs > event.stopsAtMs;
  return (
    <section
      aria-label={DESK_TEXT.nearlyAtTheEnd}
      aria-live="polite"
      className="mx-5 mb-2 flex flex-wrap items-center gap-3 rounded-md border border-plum bg-plum-wash px-3 py-2"
    >
      <Mark name="caution" sizePx={18} />
      <p className="flex-1">
        {(isOver ? DESK_TEXT.hasRunPast : DESK_TEXT.isDueToEnd)(at(event.stopsAtMs))}{' '}
        {DESK_TEXT.carriesOnUntil(at(event.stopsAtMs + event.overrunMinutes * 60_000))}
        {next && (
          <b className="block">{DESK_TEXT.nextNeedsTheSame(next.title!, at(Number(next.opensAtMs)))}</b>
        )}
      </p>
      <Fault error={action.error} isSmall />
      {canMove && (
        <>
          <Button disabled={action.isBusy} onClick={answer('longer')}>
            {DESK_TEXT.minutesMore(EVENT_LIMITS.longerMinutes)}
          </Button>
          {!isOver && (
            <Button disabled={action.isBusy} onClick={answer('on-time')}>
              {DESK_TEXT.endAt(at(event.stopsAtMs))}
            </Button>
          )}
        </>
      )}
    </section>
  );
}
