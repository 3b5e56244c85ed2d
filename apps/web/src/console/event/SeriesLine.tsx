import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { spreadChange, useSeries } from '../../data/series.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldWords, repeatWords } from '../../words/repeats.js';
import { Sentence } from '../../ui/Sentence.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** Which series an event belongs to; what it changed by itself is for this date alone, until somebody says otherwise. */
export function SeriesLine({ event }: { event: EventView }) {
  const { data: series } = useSeries(event.series?.id ?? null);
  const canEdit = useCan('events.edit');
  const action = useAction();
  if (!event.series || !series) return null;
  const { ownFields } = event.series;
  const spread = (to: 'later' | 'all') => (): void => void action.run(() => spreadChange(event.id, to));
  return (
    <div className="mt-1 text-[13px]">
      <p className="text-ink-soft">
        <Sentence
          words={EVENT_TEXT.oneDateOf}
          series={
            <Link to={`/series/${series.id}`} className="text-pine underline underline-offset-2">
              {EVENT_TEXT.aSeries(repeatWords(series.parsed))}
            </Link>
          }
        />
      </p>
      {ownFields.length > 0 && event.state === 'planned' && canEdit && (
        <div role="group" aria-label={EVENT_TEXT.whichDates} className="flex flex-wrap items-center gap-2">
          <p>{EVENT_TEXT.justThisDate(fieldWords(ownFields))}</p>
          <Button className="!min-h-7" disabled={action.isBusy} onClick={spread('later')}>
            {EVENT_TEXT.thisAndAllLaterDates}
          </Button>
          <Button className="!min-h-7" disabled={action.isBusy} onClick={spread('all')}>
            {EVENT_TEXT.allDates}
          </Button>
        </div>
      )}
      <Fault error={action.error} isSmall />
    </div>
  );
}
