import { Link } from 'react-router';
import type { SeriesDate, SeriesView } from '@heliphon/contracts/series';
import { skipDate } from '../../data/commands.js';
import { Button } from '../../ui/Button.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DutyNames } from '../duties/DutyNames.js';
import { dateWords, fieldWords } from '../../words/repeats.js';
import { dayAndTime } from '@heliphon/contracts/time-words';

/** The next ten dates: each can be left out, opened, and differs visibly where somebody changed it. */
export function SeriesDates({ series, canEdit }: { series: SeriesView; canEdit: boolean }) {
  const action = useAction();
  return (
    <section aria-label="Next dates" className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">Next dates</h2>
      {series.dates.length === 0 && <p className="text-ink-soft">This series has ended.</p>}
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
                aria-label={`${date.isSkipped ? 'Have' : 'Leave out'} ${dateWords(date.date)}`}
                onClick={() => void action.run(() => skipDate(series.id, date.date, !date.isSkipped))}
              >
                {date.isSkipped ? 'Have it after all' : 'Leave out'}
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
        <span className="text-[13px] text-ink-soft">of its own: {fieldWords(ownFields)}</span>
      )}
      {date.shiftedTo && (
        <span className="text-[13px] text-plum">the clocks go forward: at {date.shiftedTo}</span>
      )}
    </span>
  );
}
