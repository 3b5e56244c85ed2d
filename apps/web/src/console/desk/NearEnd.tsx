import { EVENT_LIMITS, type EventView } from '@heliphon/contracts/events';
import { chooseEnd } from '../../data/commands.js';
import { useCan, useReadiness, useZone } from '../../data/house.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { timeOfDay } from '@heliphon/contracts/time-words';

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
      data-asked
      aria-label="The end comes near"
      aria-live="polite"
      className="mx-5 mb-2 flex flex-wrap items-center gap-3 rounded-md border border-plum bg-plum-wash px-3 py-2"
    >
      <Mark name="caution" sizePx={18} />
      <p className="flex-1">
        {isOver ? 'It runs over its end at ' : 'It is planned to end at '}
        {at(event.stopsAtMs)}. Left alone, it goes on while a picture comes, until{' '}
        {at(event.stopsAtMs + event.overrunMinutes * 60_000)} at the latest.
        {next && (
          <b className="block">
            “{next.title}” opens its doors at {at(Number(next.opensAtMs))} and wants the same source or place.
          </b>
        )}
      </p>
      <Fault error={action.error} isSmall />
      {canMove && (
        <>
          <Button disabled={action.isBusy} onClick={answer('longer')}>
            {EVENT_LIMITS.longerMinutes} minutes more
          </Button>
          {!isOver && (
            <Button disabled={action.isBusy} onClick={answer('on-time')}>
              End at {at(event.stopsAtMs)}
            </Button>
          )}
        </>
      )}
    </section>
  );
}
