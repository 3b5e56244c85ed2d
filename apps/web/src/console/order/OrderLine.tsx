import { Link } from 'react-router';
import { useOrder } from '../../data/order.js';
import { buttonClass } from '../../ui/Button.js';
import { ORDER_TEXT } from '../../words/console/order.js';

/** Whether there is an order sheet, and the way to it. */
export function OrderLine({ of, id }: { of: 'events' | 'series'; id: string }) {
  const { data } = useOrder(`/api/${of}/${id}/order`);
  const count = data?.items.length ?? 0;
  return (
    <div className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">{ORDER_TEXT.orderSheet}</h2>
      <div className="flex flex-wrap items-center gap-3">
        <Link to={`/${of}/${id}/order`} className={buttonClass('plain')}>
          {count > 0 ? ORDER_TEXT.seeTheOrder : ORDER_TEXT.writeTheOrder}
        </Link>
        <p className="text-[13px] text-ink-soft">
          {count > 0
            ? (count === 1 ? ORDER_TEXT.oneItem : ORDER_TEXT.items(count)) +
              (data?.isOfSeries ? ORDER_TEXT.fromTheSeries : '')
            : ORDER_TEXT.whatHappensWhenWithThe}
        </p>
      </div>
    </div>
  );
}
