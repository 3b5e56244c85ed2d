import { Link } from 'react-router';
import { type Check, type Stage, STAGES } from '@heliphon/core/readiness/readiness';
import { stageProgress } from '@heliphon/core/readiness/open-checks';
import type { EventView } from '@heliphon/contracts/events';
import { useZone } from '../../data/session.js';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { EVENT_TEXT } from '../../words/console/event.js';

export const STAGE_NAMES: Readonly<Record<Stage, string>> = {
  plan: 'Plan',
  connect: 'Connect',
  rehearse: 'Rehearse',
  air: EVENT_TEXT.onAir2,
  keep: 'Keep',
};

interface StageRailProps {
  readonly event: EventView;
  readonly checks: readonly Check[];
  readonly here: Stage;
}

/** The five stages, each filling as it gets done. */
export function StageRail({ event, checks, here }: StageRailProps) {
  const zone = useZone();
  return (
    <nav
      aria-label={EVENT_TEXT.stages}
      className="mt-5 mb-5 grid grid-cols-5 gap-2 border-b border-line pb-3"
    >
      {STAGES.map((stage) => {
        const { done, words } = stageWords(stage, event, checks, zone);
        return (
          <Link
            key={stage}
            to={`/events/${event.id}/${stage}`}
            aria-current={stage === here ? 'step' : undefined}
            className="group"
          >
            <span aria-hidden="true" className="block h-2 overflow-hidden rounded-[4px] border border-edge">
              <span className="block h-full bg-pine" style={{ width: `${done * 100}%` }} />
            </span>
            <span className="mt-1 flex flex-wrap items-baseline gap-x-2">
              <span
                className={`font-serif text-[17px] font-[560] max-sm:text-[14px] group-hover:underline ${stage === here ? 'text-pine' : 'text-ink-soft'}`}
              >
                {STAGE_NAMES[stage]}
              </span>
              <span className="text-[13px] text-ink-soft">{words}</span>
            </span>
          </Link>
        );
      })}
    </nav>
  );
}

function stageWords(
  stage: Stage,
  event: EventView,
  checks: readonly Check[],
  zone: string,
): { done: number; words: string } {
  const isOver = event.state === 'kept' || event.state === 'cancelled';
  if (stage === 'air') {
    if (event.state === 'air') return { done: 0.5, words: 'now' };
    return isOver ? { done: 1, words: 'over' } : { done: 0, words: timeOfDay(event.startsAtMs, zone) };
  }
  if (stage === 'keep') return isOver ? { done: 1, words: 'kept' } : { done: 0, words: '' };
  if (isOver) return { done: 1, words: '' };
  const { done, open, later } = stageProgress(checks, stage);
  if (open > 0) return { done, words: EVENT_TEXT.toDo(open) };
  if (later > 0) return { done, words: stage === 'plan' ? '' : EVENT_TEXT.onceThePictureIsThere };
  return { done, words: checks.length > 0 ? 'ready' : '' };
}
