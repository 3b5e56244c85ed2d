import type { OrderItem } from '@heliphon/core/order/order-sheet';

/** What somebody wrote beside items, by their ids; it stays on their device. */
export type Margin = Readonly<Record<string, string>>;

const keyOf = (eventId: string): string => `heliphon.margin.${eventId}`;

export function readMargin(eventId: string): Margin {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(eventId)) ?? '{}');
    return typeof kept === 'object' && kept !== null ? (kept as Margin) : {};
  } catch {
    return {}; // an embed whose storage the browser keeps shut, or somebody else's words
  }
}

/** @returns whether it is kept beyond this visit. */
export function keepMargin(eventId: string, margin: Margin): boolean {
  try {
    localStorage.setItem(keyOf(eventId), JSON.stringify(margin));
    return true;
  } catch {
    return false;
  }
}

/** The order with what was written beside it, as plain text. */
export function marginFile(title: string, items: readonly OrderItem[], margin: Margin): string {
  const written = items.filter(({ id }) => margin[id]);
  return [title, ...written.map((item) => `${item.title}\n${margin[item.id]}`)].join('\n\n') + '\n';
}
