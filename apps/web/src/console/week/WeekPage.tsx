import { useState } from 'react';
import { Link } from 'react-router';
import { addDays, startOfDay } from '@heliphon/core/schedule/civil-time';
import { layOutWeek } from '@heliphon/core/schedule/rota';
import { useCan, useEvents, useSources, useZone } from '../../data/house.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { PlanEventDialog } from './PlanEventDialog.js';
import { rotaEvent } from './rota-event.js';
import { useRotaMove } from './useRotaMove.js';
import { WeekList } from './WeekList.js';
import { RotaSheet } from './RotaSheet.js';

const LEGEND: readonly { mark: MarkName; word: string }[] = [
  { mark: 'planned', word: 'planned' },
  { mark: 'doors', word: 'doors open' },
  { mark: 'air', word: 'on air' },
  { mark: 'kept', word: 'kept' },
  { mark: 'caution', word: 'clash' },
];

/** The week as a rota sheet: a row a day, from today on. */
export function WeekPage() {
  const zone = useZone();
  const nowMs = useServerNow(10_000);
  const [weeks, setWeeks] = useState(0);
  const [isList, setList] = useState(false);
  const move = useRotaMove(zone);
  const [isPlanning, setPlanning] = useState(false);
  const canPlan = useCan('events.edit');
  const firstDayMs = addDays(startOfDay(nowMs, zone), weeks * 7, zone);
  const { data, error, isLoading, mutate } = useEvents(firstDayMs, addDays(firstDayMs, 7, zone));
  const { data: sources } = useSources();
  const events = data?.items ?? [];
  const layout = layOutWeek(events.map(rotaEvent), firstDayMs, zone);
  const plan = canPlan && (
    <Button kind="main" onClick={() => setPlanning(true)}>
      Plan an event
    </Button>
  );

  return (
    <div className="px-5 pt-4 pb-6">
      <div className="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[27px]">{weekName(firstDayMs, addDays(firstDayMs, 6, zone), zone)}</h1>
        <p className="text-ink-soft">{summary(events)}</p>
        <span className="flex-1" />
        <Button kind="quiet" onClick={() => setWeeks(weeks - 1)}>
          Earlier
        </Button>
        <Button aria-pressed={weeks === 0} onClick={() => setWeeks(0)}>
          This week
        </Button>
        <Button kind="quiet" onClick={() => setWeeks(weeks + 1)}>
          Later
        </Button>
        <Button kind="quiet" className="max-md:hidden" aria-pressed={isList} onClick={() => setList(!isList)}>
          As a list
        </Button>
        <Link to="/series" className={buttonClass('quiet')}>
          Series
        </Link>
        <Link to="/duties" className={buttonClass('quiet')}>
          My duties
        </Link>
        {plan}
      </div>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {isLoading && !data && <Loading rows={7} what="the week" />}
      {data && !isList && (
        <RotaSheet
          layout={layout}
          zone={zone}
          nowMs={nowMs}
          sources={sources?.items ?? []}
          canMove={canPlan}
          onMove={move}
        />
      )}
      {data && <WeekList events={events} zone={zone} sources={sources?.items ?? []} isChosen={isList} />}
      {data && events.length === 0 && (
        <Empty action={plan}>
          Nothing is planned in these seven days. An event needs a title, a time, and where the picture comes
          from.
        </Empty>
      )}
      <ul
        aria-label="What the marks mean"
        className="mt-3 flex flex-wrap gap-x-6 gap-y-1 text-[13px] text-ink-soft"
      >
        {LEGEND.map(({ mark, word }) => (
          <li key={word} className="flex items-center gap-1.5">
            <Mark name={mark} sizePx={16} /> {word}
          </li>
        ))}
      </ul>
      {isPlanning && <PlanEventDialog onClose={() => setPlanning(false)} />}
    </div>
  );
}

/** `7 to 13 March`, `28 February to 6 March`. */
function weekName(firstMs: number, lastMs: number, zone: string): string {
  const part = (ms: number, options: Intl.DateTimeFormatOptions): string =>
    new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options }).format(ms);
  const month = (ms: number): string => part(ms, { month: 'long' });
  const day = (ms: number): string => part(ms, { day: 'numeric' });
  const first = month(firstMs) === month(lastMs) ? day(firstMs) : `${day(firstMs)} ${month(firstMs)}`;
  return `${first} to ${day(lastMs)} ${month(lastMs)}`;
}

function summary(events: readonly { state: string; openChecks: number }[]): string {
  if (events.length === 0) return '';
  const onAir = events.filter((event) => event.state === 'air').length;
  const open = events.reduce((sum, event) => sum + event.openChecks, 0);
  return [
    `${events.length} ${events.length === 1 ? 'event' : 'events'}`,
    onAir > 0 ? `${onAir} on air` : null,
    open > 0 ? `${open} ${open === 1 ? 'thing' : 'things'} still to do` : 'nothing left to do',
  ]
    .filter(Boolean)
    .join(', ');
}
