import { Link } from 'react-router';
import { useOrder } from '../../data/house.js';
import { buttonClass } from '../../ui/Button.js';

/** Whether there is an order sheet, and the way to it. */
export function OrderLine({ of, id }: { of: 'events' | 'series'; id: string }) {
  const { data } = useOrder(`/api/${of}/${id}/order`);
  const count = data?.items.length ?? 0;
  return (
    <div className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">Order sheet</h2>
      <div className="flex flex-wrap items-center gap-3">
        <Link to={`/${of}/${id}/order`} className={buttonClass('plain')}>
          {count > 0 ? 'See the order' : 'Write the order'}
        </Link>
        <p className="text-[13px] text-ink-soft">
          {count > 0
            ? `${count === 1 ? 'One item' : `${count} items`}${data?.isOfSeries ? ', from the series' : ''}`
            : 'What happens when, with the words to follow; it stands beside the picture.'}
        </p>
      </div>
    </div>
  );
}
