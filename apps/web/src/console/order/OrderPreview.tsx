import { clockAt } from '@heliphon/core/order/order-text';
import type { OrderItem } from '@heliphon/core/order/order-sheet';
import { ORDER_TEXT } from '../../words/console/order.js';

/** How people will see the order, with all its words. */
export function OrderPreview({ items, startsAt }: { items: readonly OrderItem[]; startsAt: string }) {
  return (
    <section aria-label={ORDER_TEXT.whatPeopleSee} className="rounded-md border border-line bg-surface p-5">
      <h2 className="mb-3 font-sans text-[15px] font-semibold">{ORDER_TEXT.whatPeopleSee}</h2>
      {items.length === 0 && <p className="text-ink-soft">{ORDER_TEXT.nothingYetWhatYouWrite}</p>}
      <ol>
        {items.map((item) => (
          <li key={item.id} className="flex gap-4 py-1.5">
            <span className="figures w-12 shrink-0 text-[13px] leading-6 text-ink-soft">
              {item.atMinutes === null ? '' : clockAt(item.atMinutes, startsAt)}
            </span>
            <div className="min-w-0">
              <p className="font-serif text-[17px] font-semibold">{item.title}</p>
              {item.words && (
                <p className="mt-1 border-l-[3px] border-marigold pl-3 font-serif whitespace-pre-line">
                  {item.words}
                </p>
              )}
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}
