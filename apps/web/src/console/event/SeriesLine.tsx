import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { spreadChange } from '../../data/commands.js';
import { useCan, useSeries } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldWords, repeatWords } from '../../words/repeats.js';

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
        One date of{' '}
        <Link to={`/series/${series.id}`} className="text-pine underline underline-offset-2">
          a series, {repeatWords(series.parsed)}
        </Link>
      </p>
      {ownFields.length > 0 && event.state === 'planned' && canEdit && (
        <div role="group" aria-label="For which dates" className="flex flex-wrap items-center gap-2">
          <p>For this date alone: {fieldWords(ownFields)}.</p>
          <Button className="!min-h-7" disabled={action.isBusy} onClick={spread('later')}>
            For this and all later ones
          </Button>
          <Button className="!min-h-7" disabled={action.isBusy} onClick={spread('all')}>
            For all
          </Button>
        </div>
      )}
      <Fault error={action.error} isSmall />
    </div>
  );
}
