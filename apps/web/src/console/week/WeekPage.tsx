import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { addDays, instantOf, localOf, startOfDay } from '@heliphon/core/schedule/civil-time';
import { layOutWeek } from '@heliphon/core/schedule/rota';
import { useCan, useZone } from '../../data/session.js';
import { useEvents } from '../../data/events.js';
import { useSources } from '../../data/sources.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { PlanEventDialog } from './PlanEventDialog.js';
import { rotaEvent } from './rota-event.js';
import { useRotaMove } from './useRotaMove.js';
import { FirstService } from './FirstService.js';
import { ChosenEvents } from './ChosenEvents.js';
import { FoundEvents } from './FoundEvents.js';
import { MonthGlance } from './MonthGlance.js';
import { WeekFilters } from './WeekFilters.js';
import { filterQuery } from './filter-query.js';
import { useWeekView } from './useWeekView.js';
import { RotaSheet } from './RotaSheet.js';
import { WEEK_TEXT } from '../../words/console/week.js';

const LEGEND: readonly { mark: MarkName; word: string }[] = [
  { mark: 'planned', word: 'planned' },
  { mark: 'doors', word: WEEK_TEXT.doorsOpen },
  { mark: 'air', word: WEEK_TEXT.onAir },
  { mark: 'kept', word: 'kept' },
  { mark: 'caution', word: 'clash' },
];

/** The plan: the week as a rota sheet, as a list, a month at a glance, or what a search found. */
export function WeekPage() {
  const zone = useZone();
  const nowMs = useServerNow(10_000);
  const address = useWeekView(nowMs, zone);
  const { firstDayMs, filter, view, goTo } = address;
  const [isPlanning, setPlanning] = useState(false);
  const canPlan = useCan('events.edit');
  const isMonth = view === 'month';
  const todayMs = startOfDay(nowMs, zone);
  const step = (by: number): void =>
    goTo(isMonth ? nextMonth(firstDayMs, by, zone) : addDays(firstDayMs, by * 7, zone));
  const plan = canPlan && (
    <Button kind="main" onClick={() => setPlanning(true)}>
      {WEEK_TEXT.planAnEvent}
    </Button>
  );
  return (
    <div className="px-5 pt-4 pb-6">
      <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[27px]">
          {filter.q
            ? `“${filter.q}”`
            : isMonth
              ? monthName(firstDayMs, zone)
              : weekName(firstDayMs, addDays(firstDayMs, 6, zone), zone)}
        </h1>
        {!filter.q && !isMonth && <Summary address={address} zone={zone} />}
        <span className="flex-1" />
        {!filter.q && (
          <>
            <Button kind="quiet" onClick={() => step(-1)}>
              {WEEK_TEXT.earlier}
            </Button>
            <Button aria-pressed={address.isThisWeek} onClick={() => goTo(todayMs)}>
              {isMonth ? WEEK_TEXT.thisMonth : WEEK_TEXT.thisWeek}
            </Button>
            <Button kind="quiet" onClick={() => step(1)}>
              {WEEK_TEXT.later}
            </Button>
          </>
        )}
        <Link to="/series" className={buttonClass('quiet')}>
          {WEEK_TEXT.series}
        </Link>
        <Link to="/duties" className={buttonClass('quiet')}>
          {WEEK_TEXT.myDuties}
        </Link>
        {plan}
      </div>
      {!filter.q && <FirstService onPlan={() => setPlanning(true)} />}
      <WeekFilters address={address} />
      {filter.q ? (
        <FoundEvents filter={filter} todayMs={todayMs} zone={zone} />
      ) : isMonth ? (
        <MonthGlance {...{ firstDayMs, nowMs, zone, filter }} onChoose={(dayMs) => goTo(dayMs, 'week')} />
      ) : (
        <Week address={address} nowMs={nowMs} zone={zone} plan={plan} />
      )}
      <ul
        aria-label={WEEK_TEXT.whatTheMarksMean}
        className="mt-3 flex flex-wrap gap-x-6 gap-y-1 text-[13px] text-ink-soft"
      >
        {LEGEND.map(({ mark, word }) => (
          <li key={word} className="flex items-center gap-1.5">
            <Mark name={mark} sizePx={16} /> {word}
          </li>
        ))}
      </ul>
      {isPlanning && (
        <PlanEventDialog channelId={filter.channelId ?? null} onClose={() => setPlanning(false)} />
      )}
    </div>
  );
}

type Address = ReturnType<typeof useWeekView>;

const useWeekEvents = ({ firstDayMs, filter }: Address, zone: string) =>
  useEvents(firstDayMs, addDays(firstDayMs, 7, zone), filterQuery(filter));

interface WeekProps {
  readonly address: Address;
  readonly nowMs: number;
  readonly zone: string;
  readonly plan: ReactNode;
}

/** Seven days: drawn to scale, or, where that is chosen and on a phone, in words. */
function Week({ address, nowMs, zone, plan }: WeekProps) {
  const { data, error, isLoading, mutate } = useWeekEvents(address, zone);
  const { data: sources } = useSources();
  const move = useRotaMove(zone);
  const canMove = useCan('events.edit');
  const events = data?.items ?? [];
  const isList = address.view === 'list';
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (isLoading && !data) return <Loading rows={7} what={WEEK_TEXT.theWeek} />;
  return (
    <>
      {!isList && (
        <RotaSheet
          layout={layOutWeek(events.map(rotaEvent), address.firstDayMs, zone)}
          zone={zone}
          nowMs={nowMs}
          sources={sources?.items ?? []}
          canMove={canMove}
          onMove={move}
        />
      )}
      <div className={isList ? '' : 'md:hidden'}>
        <ChosenEvents events={events} zone={zone} />
      </div>
      {events.length === 0 && address.isFiltered && (
        <Empty action={<Button onClick={address.clear}>{WEEK_TEXT.showEverything}</Button>}>
          {WEEK_TEXT.nothingInTheseSevenDays}
        </Empty>
      )}
      {events.length === 0 && !address.isFiltered && (
        <Empty action={plan}>{WEEK_TEXT.nothingPlannedInTheseSeven}</Empty>
      )}
    </>
  );
}

function Summary({ address, zone }: { address: Address; zone: string }) {
  const { data } = useWeekEvents(address, zone);
  return <p className="text-ink-soft">{summary(data?.items ?? [])}</p>;
}

const monthName = (ms: number, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', { timeZone: zone, month: 'long', year: 'numeric' }).format(ms);

/** The first day of another month. */
function nextMonth(ms: number, by: number, zone: string): number {
  const [year, month] = localOf(ms, zone).split('-').map(Number) as [number, number];
  const day = new Date(Date.UTC(year, month - 1 + by, 1)).toISOString().slice(0, 10);
  const noon = instantOf(`${day}T12:00`, zone);
  return noon.ok ? startOfDay(noon.value, zone) : ms;
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
    events.length === 1 ? WEEK_TEXT.justOneEvent : WEEK_TEXT.events(events.length),
    onAir > 0 ? WEEK_TEXT.onAir2(onAir) : null,
    open === 0
      ? WEEK_TEXT.nothingLeftToDo
      : open === 1
        ? WEEK_TEXT.oneStillToDo
        : WEEK_TEXT.thingsStillToDo(open),
  ]
    .filter(Boolean)
    .join(', ');
}
