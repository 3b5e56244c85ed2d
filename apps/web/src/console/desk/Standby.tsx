import type { EventView } from '@heliphon/contracts/events';
import type { SourceView } from '@heliphon/contracts/sources';
import { chooseFeed } from '../../data/events.js';
import { useSourceNow } from '../../data/live.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { useKey } from '../../ui/useKey.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { reportWords } from '../../words/signal.js';
import { SourcePicture } from '../sources/SourcePicture.js';

interface StandbyProps {
  readonly event: EventView;
  /** The source that viewers see now. */
  readonly feedingId: string | null;
  readonly first: SourceView | null;
  readonly standby: SourceView | null;
}

/** The source that is not shown now, and the way to it: by a press, or of `X`. */
export function Standby({ event, feedingId, first, standby }: StandbyProps) {
  const isStandbyShown = feedingId === event.standbySourceId;
  const waiting = isStandbyShown ? first : standby;
  const now = useSourceNow(waiting?.id ?? null);
  const canMove = useCan('events.move') && (event.state === 'air' || event.state === 'doors');
  const action = useAction();
  const other = isStandbyShown ? 'first' : 'standby';
  const go = (): void => void action.run(() => chooseFeed(event.id, other));
  const canGo = canMove && Boolean(now?.report?.video) && !action.isBusy;
  useKey('x', canGo ? go : null);
  if (!waiting) return null;
  return (
    <section
      aria-label={DESK_TEXT.standsBy(waiting.name)}
      className="grid shrink-0 grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-x-3 border-t border-line py-2"
    >
      <div className="row-span-2">
        <SourcePicture now={now} name={waiting.name} size="tiny" />
      </div>
      <p className="col-start-2 flex items-center gap-2">
        <Mark name={now?.report ? 'planned' : 'trouble'} />
        <b>{DESK_TEXT.standsBy(waiting.name)}</b>
      </p>
      {/* Under the button too: a narrow desk has no room for a column of its own. */}
      <div className="col-start-2 col-end-4 row-start-2">
        <p className="text-[13px] text-ink-soft">
          {now?.report ? reportWords(now.report) : DESK_TEXT.isNotSending}
          {'; '}
          {ruleWords(event, isStandbyShown)}
        </p>
        <Fault error={action.error} isSmall />
      </div>
      {canMove && (
        <Button
          large
          className="col-start-3 row-start-1"
          disabled={!canGo}
          onClick={go}
          aria-label={DESK_TEXT.switchToNamed(waiting.name)}
        >
          {DESK_TEXT.switchTo}
        </Button>
      )}
    </section>
  );
}

function ruleWords({ prefersStandby, standbyAfterSeconds }: EventView, isStandbyShown: boolean): string {
  if (isStandbyShown && prefersStandby) return DESK_TEXT.chosenByHand;
  return isStandbyShown && standbyAfterSeconds > 0
    ? DESK_TEXT.givesBack
    : DESK_TEXT.takesOverAfter(standbyAfterSeconds);
}
