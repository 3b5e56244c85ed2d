/** One item of an order of service or an agenda. */
export interface OrderItem {
  /** Names it within its sheet, also after its title was changed. */
  readonly id: string;
  /** From the event's start; `null`: whenever the one before is over. */
  readonly atMinutes: number | null;
  readonly title: string;
  /** To follow: hymn, reading, agenda; lines as they are. */
  readonly words: string;
}

export const ORDER_LIMITS = {
  items: 100,
  titleLength: 120,
  wordsLength: 4000,
  /** Of everything together, so that a page on a weak line has it at once. */
  wholeLength: 60_000,
  atMinutes: 24 * 60,
} as const;

/** The desk moved the sheet on to an item; `null`: from here on it goes by its times again. */
export interface OrderMark {
  readonly atMs: number;
  readonly itemId: string | null;
}

/** From when on an item was, or is, the present one. */
export interface OrderChange {
  readonly atMs: number;
  readonly itemId: string;
}

/** When an item is due by its time. */
export const dueAtMs = ({ atMinutes }: OrderItem, startsAtMs: number): number | null =>
  atMinutes === null ? null : startsAtMs + atMinutes * 60_000;

/**
 * Which item was the present one, and from when on: by its times, until the desk moves it on by hand; then by hand,
 * until the desk lets it go by its times again. Marks of items that are gone count for nothing.
 * @param fromMs - the beginning of the programme on air: what was present then is so from then on.
 * @param toMs - until now, or the end.
 */
export function orderChanges(
  items: readonly OrderItem[],
  marks: readonly OrderMark[],
  startsAtMs: number,
  fromMs: number,
  toMs: number,
): OrderChange[] {
  const known = new Set(items.map(({ id }) => id));
  const byHand = inOrder(marks.filter(({ itemId }) => itemId === null || known.has(itemId)));
  const due = inOrder(
    items.flatMap((item) => {
      const atMs = dueAtMs(item, startsAtMs);
      return atMs === null ? [] : [{ atMs, itemId: item.id }];
    }),
  );
  const presentAt = (ms: number): string | null => {
    const mark = byHand.findLast(({ atMs }) => atMs <= ms);
    return mark?.itemId ?? due.findLast(({ atMs }) => atMs <= ms)?.itemId ?? null;
  };
  const instants = [fromMs, ...due.map(({ atMs }) => atMs), ...byHand.map(({ atMs }) => atMs)]
    .filter((ms) => ms >= fromMs && ms <= toMs)
    .sort((a, b) => a - b);
  const changes: OrderChange[] = [];
  for (const atMs of new Set(instants)) {
    const itemId = presentAt(atMs);
    if (itemId !== null && itemId !== changes.at(-1)?.itemId) changes.push({ atMs, itemId });
  }
  return changes;
}

/** The item that is present at an instant. */
export const presentItem = (changes: readonly OrderChange[], atMs: number): string | null =>
  changes.findLast((change) => change.atMs <= atMs)?.itemId ?? null;

const inOrder = <T extends { readonly atMs: number }>(list: readonly T[]): T[] =>
  [...list].sort((a, b) => a.atMs - b.atMs);
