import { Link, useParams } from 'react-router';
import { useCan } from '../../data/session.js';
import { useOrder } from '../../data/order.js';
import { useSeries } from '../../data/series.js';
import { Failed, Loading } from '../../ui/states.js';
import { OrderEditor } from './OrderEditor.js';
import { Sentence } from '../../ui/Sentence.js';
import { ORDER_TEXT } from '../../words/console/order.js';

/** The order that every date of a series takes from it. */
export function SeriesOrderPage() {
  const { id = '' } = useParams();
  const path = `/api/series/${id}/order`;
  const { data: series, error } = useSeries(id);
  const { data: order, mutate } = useOrder(path);
  const canEdit = useCan('events.edit');
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="text-[27px]">{ORDER_TEXT.orderSheet}</h1>
      {series && (
        <p className="mb-4 text-ink-soft">
          <Sentence
            words={ORDER_TEXT.ofEveryDate}
            series={
              <Link to={`/series/${id}`} className="text-pine underline underline-offset-2">
                {series.title}
              </Link>
            }
          />
        </p>
      )}
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!error && !(series && order) && <Loading what={ORDER_TEXT.theOrder} rows={6} />}
      {series && order && (
        <OrderEditor path={path} order={order} startsAt={series.timeOfDay} canEdit={canEdit} />
      )}
    </div>
  );
}
