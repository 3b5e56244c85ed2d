import useSWR, { mutate } from 'swr';
import type { OrderView, WriteOrder } from '@heliphon/contracts/order';
import { ask } from './api.js';
import { fetcher } from './cache.js';

/** The order sheet of an event or a series, by its path. */
export const useOrder = (path: string | null) => useSWR<OrderView>(path, fetcher);

async function thenShowOrder(path: string, answer: Promise<OrderView>): Promise<OrderView> {
  const view = await answer;
  await mutate(path, view, { revalidate: false });
  return view;
}

/** Writes the order sheet of an event or a series. */
export const writeOrder = (path: string, version: number, items: WriteOrder['items']): Promise<OrderView> =>
  thenShowOrder(path, ask(path, { method: 'PUT', version, body: { items } }));

/** An event shows its series' order again. */
export const dropOwnOrder = (path: string): Promise<OrderView> =>
  thenShowOrder(path, ask(path, { method: 'DELETE' }));

/** Moves the order on to an item; `null`: by its times again. */
export const moveOrder = (eventId: string, itemId: string | null): Promise<OrderView> =>
  thenShowOrder(
    `/api/events/${eventId}/order`,
    ask(`/api/events/${eventId}/order/present`, { method: 'POST', body: { itemId } }),
  );
