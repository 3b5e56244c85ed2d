import { useState } from 'react';
import { Link } from 'react-router';
import { COMMANDS_FROM, type CommandKind } from '@heliphon/core/schedule/event-life';
import type { EventView } from '@heliphon/contracts/events';
import { clock, duration, timeOfDay } from '@heliphon/contracts/time-words';
import { moveEvent } from '../../data/events.js';
import { useServerNow } from '../../data/server-clock.js';
import { useCan, useZone } from '../../data/session.js';
import { buttonClass } from '../../ui/Button.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Mark, STATE_WORDS } from '../../ui/Mark.js';
import { Sentence } from '../../ui/Sentence.js';
import { Fault } from '../../ui/states.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { DeskCrew } from './DeskCrew.js';
import { STAGE_NAMES } from '../event/StageRail.js';

/** What the desk is of, how long it has been on air, and the two deliberate acts. */
export function DeskHeader({ event }: { event: EventView }) {
  const zone = useZone();
  const nowMs = useServerNow();
  return (
    <header className="flex min-h-[54px] flex-wrap items-center gap-x-4 gap-y-2 px-5 py-2 max-lg:px-4 lg:max-xl:gap-y-0 lg:max-xl:py-1">
      <StateLamp event={event} nowMs={nowMs} />
      <h1 className="text-[22px]">{event.title}</h1>
      <span className="text-ink-soft">{endWords(event, nowMs, zone)}</span>
      {/* One row of its own on a narrow desk; on a wide one the stages stand beside the title. */}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 max-xl:w-full lg:max-xl:order-1 xl:contents">
        <nav aria-label={DESK_TEXT.stages} className="flex gap-4 text-sm text-ink-soft xl:ml-2">
          {(['plan', 'connect', 'rehearse', 'keep'] as const).map((stage) => (
            <Link key={stage} to={`/events/${event.id}/${stage}`} className="hover:text-ink hover:underline">
              {STAGE_NAMES[stage]}
            </Link>
          ))}
        </nav>
        <DeskCrew event={event} />
      </div>
      <span className="flex-1" />
      <div className="max-lg:hidden">
        <Commands event={event} />
      </div>
    </header>
  );
}

function StateLamp({ event, nowMs }: { event: EventView; nowMs: number }) {
  if (event.state === 'air') {
    return (
      <p className="flex h-[38px] items-center gap-2.5 rounded-md bg-marigold py-1 pr-3.5 pl-2.5 text-[17px] font-bold text-on-marigold outline-2 outline-marigold-text">
        <Mark name="air" sizePx={24} inherit />
        <Sentence
          words={DESK_TEXT.onAirFor}
          time={<span className="figures">{clock(nowMs - (event.airAtMs ?? nowMs))}</span>}
        />
      </p>
    );
  }
  return (
    <p className="flex h-[38px] items-center gap-2.5 rounded-md border border-edge px-3 text-[17px] font-bold">
      <Mark name={event.state} sizePx={20} />
      {STATE_WORDS[event.state]}
      {event.state === 'doors' && (
        <span className="figures">{clock(event.startsAtMs - event.filmMs - nowMs)}</span>
      )}
    </p>
  );
}

function endWords(event: EventView, nowMs: number, zone: string): string {
  if (event.state === 'air') {
    const leftMs = event.stopsAtMs - nowMs;
    const at = timeOfDay(event.stopsAtMs, zone);
    return leftMs > 0 ? DESK_TEXT.endsAtIn(at, duration(leftMs)) : DESK_TEXT.shouldHaveEndedAt(at);
  }
  if (event.state === 'planned' || event.state === 'doors')
    return DESK_TEXT.goesOnAirByItself(timeOfDay(event.startsAtMs - event.filmMs, zone));
  return event.endAtMs ? DESK_TEXT.endedAt(timeOfDay(event.endAtMs, zone)) : '';
}

const COMMAND_WORDS: Readonly<Record<CommandKind, string>> = {
  'open-doors': DESK_TEXT.openTheDoors,
  'go-on-air': DESK_TEXT.goOnAirHold,
  end: DESK_TEXT.endForEveryoneHold,
};

/** Going on air and ending are held for a second; opening the doors is not. */
export function Commands({ event }: { event: EventView }) {
  const canMove = useCan('events.move');
  const [error, setError] = useState<unknown>(null);
  const run = (kind: CommandKind): void => {
    setError(null);
    moveEvent(event, kind).catch(setError);
  };
  if (!canMove) return null;
  return (
    <div className="flex items-center gap-3">
      <Fault error={error} isSmall />
      {COMMANDS_FROM[event.state]
        .filter((kind) => kind !== 'end' || event.state === 'air')
        .map((kind) =>
          kind === 'open-doors' ? (
            <button key={kind} type="button" className={buttonClass('plain', true)} onClick={() => run(kind)}>
              {COMMAND_WORDS[kind]}
            </button>
          ) : (
            <HoldButton
              key={kind}
              onHeld={() => run(kind)}
              className={
                kind === 'go-on-air' ? 'border-marigold-text bg-marigold text-on-marigold' : 'border-ink-soft'
              }
            >
              {COMMAND_WORDS[kind]}
            </HoldButton>
          ),
        )}
    </div>
  );
}
