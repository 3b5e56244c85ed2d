import type { CSSProperties, KeyboardEvent } from 'react';
import { Link } from 'react-router';
import type { RotaMove } from '@heliphon/core/schedule/move-on-rota';
import type { RotaBar, Ruler, Stretch } from '@heliphon/core/schedule/rota';
import type { EventView } from '@heliphon/contracts/events';
import type { SourceView } from '@heliphon/contracts/sources';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { EventTitle, Particulars } from './EventWords.js';
import { moveOfKey, useRotaDrag } from './useRotaDrag.js';
import type { rotaEvent } from './rota-event.js';
import { WEEK_TEXT } from '../../words/console/week.js';

type Bar = RotaBar<ReturnType<typeof rotaEvent>>;

export const ROW_PX = 66;

/** Where an hour stands across the sheet. */
export const across = (hour: number, ruler: Ruler): string =>
  `${((hour - ruler.fromHour) / (ruler.toHour - ruler.fromHour)) * 100}%`;

const PROGRAMME_LOOK: Readonly<Record<EventView['state'], string>> = {
  planned: 'border-2 border-pine bg-pine-wash',
  doors: 'border-2 border-pine bg-pine-wash',
  air: 'border-2 border-marigold-text bg-marigold',
  kept: 'border border-edge bg-sunk',
  cancelled: 'border border-dashed border-edge',
};

const DRAFT_LOOK = 'border-2 border-dashed border-edge';

/** An event drawn to scale, with its words under it; it can be dragged, or moved by keys. */
export function EventBar({
  bar,
  ruler,
  zone,
  sources,
  canMove,
  onMove,
}: {
  bar: Bar;
  ruler: Ruler;
  zone: string;
  sources: readonly SourceView[];
  canMove: boolean;
  onMove: (move: RotaMove) => void;
}) {
  const drag = useRotaDrag({ hoursAcross: ruler.toHour - ruler.fromHour, canMove, onMoved: onMove });
  const { view } = bar.event;
  const wordsHour = bar.programme?.fromHour ?? bar.doors?.fromHour ?? 0;
  const isLate = wordsHour > ruler.toHour - (ruler.toHour - ruler.fromHour) * 0.2;
  const place = isLate ? { right: 4 } : { left: across(wordsHour, ruler) };
  const top = 8 + bar.row * ROW_PX;
  const onKeyDown = (event: KeyboardEvent): void => {
    const move = canMove && event.altKey ? moveOfKey(event.key, event.shiftKey) : null;
    if (!move) return;
    event.preventDefault();
    onMove(move);
  };
  return (
    <li className={drag.move ? 'relative z-[3] opacity-80' : ''} style={hanging(drag.move, ruler)}>
      {bar.doors && (
        <Piece
          stretch={bar.doors}
          ruler={ruler}
          top={top}
          className="hatched rounded-l-[5px] border border-edge text-edge"
        />
      )}
      {bar.programme && (
        <Piece
          stretch={bar.programme}
          ruler={ruler}
          top={top}
          isMovable={canMove}
          lengthHours={drag.move?.edge === 'end' ? drag.move.hours : 0}
          onGrab={drag.onPointerDown}
          className={
            view.clash
              ? 'hatched-strong border-2 border-plum bg-plum-wash text-plum'
              : view.isDraft
                ? DRAFT_LOOK
                : PROGRAMME_LOOK[view.state]
          }
        />
      )}
      {bar.overrun && (
        <Piece
          stretch={bar.overrun}
          ruler={ruler}
          top={top}
          className="rounded-r-[5px] border border-l-0 border-dashed border-edge"
        />
      )}
      <Link
        to={view.state === 'air' ? `/events/${view.id}/air` : `/events/${view.id}`}
        onKeyDown={onKeyDown}
        aria-keyshortcuts={canMove ? 'Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown' : undefined}
        draggable={false}
        className="absolute z-[1] max-w-[46%] rounded-sm bg-[color-mix(in_srgb,var(--ground)_78%,transparent)] pr-1.5 leading-tight hover:underline"
        style={{ ...place, top: top + 22 }}
      >
        <EventTitle view={view} />
        <span className="sr-only">
          {WEEK_TEXT.fromTo(timeOfDay(view.startsAtMs, zone), timeOfDay(view.stopsAtMs, zone))}{' '}
        </span>
        <span className="block text-[13px] text-ink-soft">
          <Particulars view={view} sources={sources} />
        </span>
      </Link>
    </li>
  );
}

/** While it is dragged a bar hangs where it would fall; only the sheet knows how high its rows are. */
const hanging = (move: RotaMove | null, ruler: Ruler): CSSProperties | undefined =>
  move?.edge === 'whole'
    ? {
        transform: `translate(${(move.hours / (ruler.toHour - ruler.fromHour)) * 100}%, ${move.days * ROW_PX}px)`,
      }
    : undefined;

function Piece({
  stretch,
  ruler,
  top,
  className,
  isMovable = false,
  lengthHours = 0,
  onGrab,
}: {
  isMovable?: boolean;
  lengthHours?: number;
  onGrab?: ReturnType<typeof useRotaDrag>['onPointerDown'];
  stretch: Stretch;
  ruler: Ruler;
  top: number;
  className: string;
}) {
  return (
    <span
      aria-hidden="true"
      className={`absolute h-5 ${className} ${isMovable ? 'z-[2] cursor-grab touch-none' : ''}`}
      onPointerDown={isMovable ? (event) => onGrab?.(event, 'whole') : undefined}
      style={{
        top,
        left: across(stretch.fromHour, ruler),
        width: `calc(${across(stretch.toHour + lengthHours, ruler)} - ${across(stretch.fromHour, ruler)})`,
      }}
    >
      {isMovable && (
        <span
          className="absolute -inset-y-1 -right-1 w-3 cursor-ew-resize touch-none"
          onPointerDown={(event) => {
            event.stopPropagation();
            onGrab?.(event, 'end');
          }}
        />
      )}
    </span>
  );
}
