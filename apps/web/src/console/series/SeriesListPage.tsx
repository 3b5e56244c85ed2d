import { Link } from 'react-router';
import type { SeriesView } from '@heliphon/contracts/series';
import { useSeriesList } from '../../data/house.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { repeatWords } from '../../words/repeats.js';
import { dayAndTime } from '@heliphon/contracts/time-words';

/** What repeats in this house. */
export function SeriesListPage() {
  const { data, error, mutate } = useSeriesList();
  return (
    <div className="max-w-5xl px-5 pt-4 pb-8">
      <div className="mb-4 flex flex-wrap items-center justify-between gap-3">
        <h1 className="text-[27px]">Series</h1>
        <Link to="/calendar" className={buttonClass()}>
          Calendar files
        </Link>
      </div>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="the series" />}
      {data?.items.length === 0 && (
        <Empty action={<Link to="/">Go to the week</Link>}>
          Nothing repeats yet. Plan an event and choose how it repeats: every date after the first then needs
          no hand.
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
              {repeatWords(series.parsed)}, at {series.timeOfDay}
            </span>
            <span className="text-[13px] text-ink-soft">its page: /watch/{series.slug}</span>
            <span className="text-[13px] text-ink-soft">{nextWords(series)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function nextWords({ dates, zone }: SeriesView): string {
  const next = dates.find(({ isSkipped, event }) => !isSkipped && event?.state !== 'cancelled');
  return next ? `next: ${dayAndTime(next.event?.startsAtMs ?? next.startsAtMs, zone)}` : 'has ended';
}
