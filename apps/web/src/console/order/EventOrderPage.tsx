import { Link } from 'react-router';
import { localOf } from '@heliphon/core/schedule/civil-time';
import type { EventView } from '@heliphon/contracts/events';
import { dropOwnOrder, writeOrder, useOrder } from '../../data/order.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { EventGate } from '../event/EventGate.js';
import { OrderEditor } from './OrderEditor.js';
import { Sentence } from '../../ui/Sentence.js';
import { ORDER_TEXT } from '../../words/console/order.js';

/** The order of one event. */
export function EventOrderPage() {
  return <EventGate>{(event) => <EventOrder event={event} />}</EventGate>;
}

function EventOrder({ event }: { event: EventView }) {
  const path = `/api/events/${event.id}/order`;
  const { data, error, mutate } = useOrder(path);
  const canEdit = useCan('events.edit');
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="text-[27px]">{ORDER_TEXT.orderSheet}</h1>
      <p className="mb-4 text-ink-soft">
        <Sentence
          words={ORDER_TEXT.ofEvent}
          event={
            <Link to={`/events/${event.id}`} className="text-pine underline underline-offset-2">
              {event.title}
            </Link>
          }
        />
      </p>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={ORDER_TEXT.theOrder} rows={6} />}
      {data && event.series && <OfSeries event={event} seriesId={event.series.id} path={path} />}
      {data && (
        <OrderEditor
          path={path}
          order={data}
          startsAt={localOf(event.startsAtMs, event.zone).slice(11)}
          canEdit={canEdit}
        />
      )}
    </div>
  );
}

/** A date of a series shows its series' order, until it has one of its own. */
function OfSeries({ event, seriesId, path }: { event: EventView; seriesId: string; path: string }) {
  const { data: own } = useOrder(path);
  const seriesPath = `/api/series/${seriesId}/order`;
  const { data: ofSeries } = useOrder(seriesPath);
  const canEdit = useCan('events.edit');
  const action = useAction();
  if (!own || !ofSeries) return null;
  if (own.isOfSeries || own.version === 0)
    return (
      <p className="mb-4">
        <Sentence
          words={ORDER_TEXT.thisIsTheSeries}
          order={
            <Link to={`/series/${seriesId}/order`} className="text-pine underline underline-offset-2">
              {ORDER_TEXT.theOrderOfTheSeries}
            </Link>
          }
        />
      </p>
    );
  return (
    <div role="group" aria-label={ORDER_TEXT.whichDates} className="mb-4 flex flex-wrap items-center gap-3">
      <p>{ORDER_TEXT.thisOrderIsJustFor}</p>
      {canEdit && event.state === 'planned' && (
        <>
          <Button disabled={action.isBusy} onClick={() => void action.run(() => dropOwnOrder(path))}>
            {ORDER_TEXT.goBackToTheSeries}
          </Button>
          <Button
            disabled={action.isBusy}
            onClick={() =>
              void action.run(async () => {
                await writeOrder(seriesPath, ofSeries.version, own.items);
                await dropOwnOrder(path);
              })
            }
          >
            {ORDER_TEXT.useItForAllDates}
          </Button>
        </>
      )}
      <Fault error={action.error} isSmall />
    </div>
  );
}
