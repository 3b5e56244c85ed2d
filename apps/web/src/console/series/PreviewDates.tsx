import type { SeriesPreview } from '@heliphon/contracts/series';
import { Mark } from '../../ui/Mark.js';
import { dateWords, repeatWords } from '../../words/repeats.js';
import { SERIES_TEXT } from '../../words/console/series.js';

const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** A rule in words, and the dates it comes to. */
export function PreviewDates({ shown }: { shown: SeriesPreview | null }) {
  if (!shown) return null;
  return (
    <section aria-label={SERIES_TEXT.whatThisGives} aria-live="polite" className="rounded-md bg-sunk p-3">
      <p className="font-semibold">{capital(repeatWords(shown.parsed))}.</p>
      {shown.dates.length === 0 && <p className="text-ink-soft">{SERIES_TEXT.thereAreNoDatesLeft}</p>}
      <ul className="mt-1 grid grid-cols-2 gap-x-4 text-[13px] text-ink-soft">
        {shown.dates.map(({ date, shiftedTo }) => (
          <li key={date}>
            {dateWords(date)}
            {shiftedTo && (
              <span className="flex items-center gap-1 text-plum">
                <Mark name="caution" sizePx={14} /> {SERIES_TEXT.clocksGoForward(shiftedTo)}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
