import { Link, useParams } from 'react-router';
import { useCan, useOrder, useSeries } from '../../data/house.js';
import { Failed, Loading } from '../../ui/states.js';
import { OrderEditor } from './OrderEditor.js';

/** The order that every date of a series takes from it. */
export function SeriesOrderPage() {
  const { id = '' } = useParams();
  const path = `/api/series/${id}/order`;
  const { data: series, error } = useSeries(id);
  const { data: order, mutate } = useOrder(path);
  const canEdit = useCan('events.edit');
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="text-[27px]">Order sheet</h1>
      {series && (
        <p className="mb-4 text-ink-soft">
          of every date of{' '}
          <Link to={`/series/${id}`} className="text-pine underline underline-offset-2">
            {series.title}
          </Link>
          , but for those with one of their own
        </p>
      )}
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!error && !(series && order) && <Loading what="the order" rows={6} />}
      {series && order && (
        <OrderEditor path={path} order={order} startsAt={series.timeOfDay} canEdit={canEdit} />
      )}
    </div>
  );
}
