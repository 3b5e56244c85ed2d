import { Link } from 'react-router';
import type { SeriesView } from '@heliphon/contracts/series';
import { useSeriesList } from '../../data/series.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { repeatWords } from '../../words/repeats.js';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { SERIES_TEXT } from '../../words/console/series.js';

/** What repeats in this house. */
export function SeriesListPage() {
  const { data, error, mutate } = useSeriesList();
  return (
    <div className="max-w-5xl px-5 pt-4 pb-8">
      <div className="mb-4 flex flex-wrap items-center justify-between gap-3">
        <h1 className="text-[27px]">{SERIES_TEXT.series}</h1>
        <Link to="/calendar" className={buttonClass()}>
          {SERIES_TEXT.calendarFiles}
        </Link>
      </div>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={SERIES_TEXT.theSeries} />}
      {data?.items.length === 0 && (
        <Empty action={<Link to="/">{SERIES_TEXT.goToTheWeek}</Link>}>
          {SERIES_TEXT.nothingRepeatsYetPlanAn}
        </Empty>
      )}
      <ul className="border-t border-line">
        {data?.items.map((series) => (
          <li
            key={series.id}
            className="grid gap-x-6 gap-y-1 border-b border-line py-3 sm:grid-cols-[1fr_1fr]"
          >
            <Link to={`/series/${series.id}`} className="font-semibold underline underline-offset-2">
              {series.title}
            </Link>
            <span className="text-ink-soft">
              {SERIES_TEXT.repeatsAt(repeatWords(series.parsed), series.timeOfDay)}
            </span>
            <span className="text-[13px] text-ink-soft">
              {SERIES_TEXT.itsPageIs(`/watch/${series.slug}`)}
            </span>
            <span className="text-[13px] text-ink-soft">{nextWords(series)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function nextWords({ dates, zone }: SeriesView): string {
  const next = dates.find(({ isSkipped, event }) => !isSkipped && event?.state !== 'cancelled');
  return next ? `next: ${dayAndTime(next.event?.startsAtMs ?? next.startsAtMs, zone)}` : SERIES_TEXT.hasEnded;
}
