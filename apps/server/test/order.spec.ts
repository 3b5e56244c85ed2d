import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { OrderItem } from '@heliphon/core/order/order-sheet';
import type { EventView } from '@heliphon/contracts/events';
import type { OrderView, PublicOrder } from '@heliphon/contracts/order';
import type { Page } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { SeriesView } from '@heliphon/contracts/series';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  house = await server.house('producer');
});

const item = (id: string, atMinutes: number | null = null): OrderItem => ({
  id,
  atMinutes,
  title: `Item ${id}`,
  words: 'Words\nto follow',
});
const write = (of: string, items: readonly OrderItem[], version = 0) =>
  house.ask<OrderView>('PUT', `/api/${of}/order`, { items }, { 'if-match': `"${version}"` });
const orderOf = async (of: string): Promise<OrderView> =>
  (await house.get<OrderView>(`/api/${of}/order`)).body;
const publicly = async ({ slug }: EventView): Promise<{ event: PublicEvent; order: PublicOrder }> => ({
  event: (await server.anybody().get<PublicEvent>(`/api/public/events/${slug}`)).body,
  order: (await server.anybody().get<PublicOrder>(`/api/public/events/${slug}/order`)).body,
});
const titles = ({ items }: { readonly items: readonly OrderItem[] }): string[] =>
  items.map(({ title }) => title);

describe('an event’s order', () => {
  test('is written, read by everybody, and undone; who knows an old one overwrites nothing', async () => {
    const event = await house.event(600, 660);
    expect((await publicly(event)).event.orderSeq).toBeNull();
    const { body } = await write(`events/${event.id}`, [item('a', 0), item('b', 5)]);
    expect(body).toMatchObject({ version: 1, isOfSeries: false, items: [item('a', 0), item('b', 5)] });
    const seen = await until(async () => {
      const found = await publicly(event);
      return found.event.orderSeq === null ? null : found;
    }, 'it to be seen');
    expect(titles(seen.order)).toEqual(['Item a', 'Item b']);
    const stale = await write(`events/${event.id}`, [item('z')]);
    expect([stale.status, (stale.body as unknown as { current: OrderItem[] }).current]).toEqual([
      412,
      [item('a', 0), item('b', 5)],
    ]);
    await house.post('/api/happenings/undo-last', { subjectId: event.id });
    expect((await orderOf(`events/${event.id}`)).items).toEqual([]);
  });

  test('may be long, in any script', async () => {
    const event = await house.event(600, 660);
    const words = '光'.repeat(3900);
    const items = Array.from({ length: 15 }, (_, at) => ({ ...item(`i${at}`), words }));
    expect((await write(`events/${event.id}`, items)).status).toBe(200);
    expect((await write(`events/${event.id}`, [item('a')], 1)).status).toBe(200);
    await house.post('/api/happenings/undo-last', { subjectId: event.id });
    expect((await orderOf(`events/${event.id}`)).items).toEqual(items);
  });

  test.each<[string, unknown]>([
    ['two items of one name', [item('a'), item('a')]],
    ['an item without a title', [{ ...item('a'), title: ' ' }]],
    ['words beyond all measure', [{ ...item('a'), words: 'x'.repeat(4001) }]],
    [
      'a whole that is too long',
      Array.from({ length: 20 }, (_, at) => ({ ...item(`i${at}`), words: 'x'.repeat(3900) })),
    ],
    ['an item two days on', [item('a', 3000)]],
    ['a name that is none', [item('<script>')]],
  ])('%s is refused', async (_what, items) => {
    const event = await house.event(600, 660);
    expect((await write(`events/${event.id}`, items as OrderItem[])).status).toBe(422);
  });

  test('is moved on by the desk while it is on air, and by nobody else', async () => {
    const operator = await server.member(house.houseId, 'operator');
    const moderator = await server.member(house.houseId, 'moderator');
    const event = await house.event(600, 660);
    await write(`events/${event.id}`, [item('a', 0), item('b', 5)]);
    const move = (client: HouseClient, itemId: string | null) =>
      client.post<OrderView>(`/api/events/${event.id}/order/present`, { itemId });
    expect((await move(operator, 'a')).status).toBe(409);
    const open = (await operator.move(event, 'open-doors')).body;
    const onAir = (await operator.move(open, 'go-on-air')).body;
    expect((await move(moderator, 'b')).status).toBe(403);
    expect((await move(operator, 'z')).status).toBe(422);
    const before = (await publicly(onAir)).event.orderSeq;
    expect((await move(operator, 'b')).body.marks).toMatchObject([{ itemId: 'b' }]);
    expect((await move(operator, null)).body.marks).toHaveLength(2);
    const after = await until(async () => {
      const found = await publicly(onAir);
      return found.event.orderSeq !== before && found;
    }, 'the move to be seen');
    expect(after.order.marks.map(({ itemId }) => itemId)).toEqual(['b', null]);
    // Marks belong to what was on air: another order keeps them.
    await write(`events/${event.id}`, [item('b', 5)], 1);
    expect((await orderOf(`events/${event.id}`)).marks).toHaveLength(2);
  });

  test('comes back with the event when its deletion is undone', async () => {
    const event = await house.event(600, 660);
    await write(`events/${event.id}`, [item('a', 0)]);
    await house.delete(`/api/events/${event.id}`);
    await house.post('/api/happenings/undo-last', { subjectId: event.id });
    expect(titles(await orderOf(`events/${event.id}`))).toEqual(['Item a']);
  });
});

describe('a series’ order', () => {
  const DAY_MS = 86_400_000;
  async function series(): Promise<{ id: string; events: EventView[] }> {
    const day = new Date(Date.now() + DAY_MS).toISOString().slice(0, 10);
    const wish = {
      title: 'Prayers',
      rule: 'FREQ=DAILY;COUNT=3',
      firstDate: day,
      timeOfDay: '10:30',
      lengthMinutes: 30,
    };
    const { id } = (await house.post<SeriesView>('/api/series', wish)).body;
    return { id, events: [...(await house.get<Page<EventView>>('/api/events')).body.items] };
  }

  test('is that of every date, until one has its own; a date can let go of it again', async () => {
    const { id, events } = await series();
    await write(`series/${id}`, [item('a', 0)]);
    const [first, second] = events as [EventView, EventView];
    expect(await orderOf(`events/${first.id}`)).toMatchObject({
      version: 0,
      isOfSeries: true,
      items: [item('a', 0)],
    });
    await write(`events/${first.id}`, [item('own')]);
    await write(`series/${id}`, [item('b')], 1);
    expect(titles(await orderOf(`events/${first.id}`))).toEqual(['Item own']);
    expect(titles(await orderOf(`events/${second.id}`))).toEqual(['Item b']);
    const { body } = await house.delete<OrderView>(`/api/events/${first.id}/order`);
    expect([body.isOfSeries, ...titles(body)]).toEqual([true, 'Item b']);
  });

  test('stays with what was on air, whatever the series says later; another like it takes it along', async () => {
    const { id, events } = await series();
    const [first] = events as [EventView];
    await write(`series/${id}`, [item('a', 0)]);
    const open = (await house.move(first, 'open-doors')).body;
    await house.move(open, 'go-on-air');
    await write(`series/${id}`, [item('b')], 1);
    expect(await orderOf(`events/${first.id}`)).toMatchObject({ isOfSeries: false, items: [item('a', 0)] });
    const wish = { title: 'Another', startsAtLocal: '2031-03-02T10:30', stopsAtLocal: '2031-03-02T11:00' };
    const another = (await house.post<EventView>('/api/events', { ...wish, likeEventId: first.id })).body;
    expect(titles(await orderOf(`events/${another.id}`))).toEqual(['Item a']);
  });
});
