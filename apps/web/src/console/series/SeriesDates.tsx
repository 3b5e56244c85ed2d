import { Link } from 'react-router';
import type { SeriesDate, SeriesView } from '@heliphon/contracts/series';
import { skipDate } from '../../data/series.js';
import { Button } from '../../ui/Button.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DutyNames } from '../duties/DutyNames.js';
import { dateWords, fieldWords } from '../../words/repeats.js';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { SERIES_TEXT } from '../../words/console/series.js';

/** The next ten dates: each can be left out, opened, and differs visibly where somebody changed it. */
export function SeriesDates({ series, canEdit }: { series: SeriesView; canEdit: boolean }) {
  const action = useAction();
  return (
    <section aria-label={SERIES_TEXT.nextDates} className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">{SERIES_TEXT.nextDates}</h2>
      {series.dates.length === 0 && <p className="text-ink-soft">{SERIES_TEXT.thisSeriesHasEnded}</p>}
      <ul className="border-t border-line">
        {series.dates.map((date) => (
          <li key={date.date} className="flex min-h-11 items-center gap-3 border-b border-line py-1.5">
            <Mark name={markOf(date)} sizePx={16} />
            <DateWords date={date} zone={series.zone} />
            {canEdit && (date.event === null || date.event.state === 'planned') && (
              <Button
                kind="quiet"
                className="text-[13px]"
                disabled={action.isBusy}
                aria-label={(date.isSkipped ? SERIES_TEXT.putDateBack : SERIES_TEXT.leaveDateOut)(
                  dateWords(date.date),
                )}
                onClick={() => void action.run(() => skipDate(series.id, date.date, !date.isSkipped))}
              >
                {date.isSkipped ? SERIES_TEXT.putItBack : SERIES_TEXT.leaveOut}
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Fault error={action.error} />
    </section>
  );
}

const markOf = ({ isSkipped, event }: SeriesDate): MarkName =>
  isSkipped ? 'cancelled' : (event?.state ?? 'planned');

function DateWords({ date, zone }: { date: SeriesDate; zone: string }) {
  if (date.isSkipped)
    return <span className="flex-1 text-ink-soft line-through">{dateWords(date.date)}</span>;
  if (!date.event) return <span className="flex-1">{dateWords(date.date)}</span>;
  const { id, startsAtMs, ownFields, duties } = date.event;
  return (
    <span className="grid flex-1">
      <Link to={`/events/${id}`} className="underline underline-offset-2">
        {dayAndTime(startsAtMs, zone)}
      </Link>
      <DutyNames duties={duties} className="flex flex-wrap gap-x-3" />
      {ownFields.length > 0 && (
        <span className="text-[13px] text-ink-soft">{SERIES_TEXT.changedHere(fieldWords(ownFields))}</span>
      )}
      {date.shiftedTo && (
        <span className="text-[13px] text-plum">{SERIES_TEXT.clocksGoForward(date.shiftedTo)}</span>
      )}
    </span>
  );
}
