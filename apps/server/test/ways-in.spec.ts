import { createHash, randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { GuestLink, GuestView, SendToken } from '@heliphon/contracts/send-tokens';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { DEVICE, type SourceView } from '@heliphon/contracts/sources';
import { type HouseClient, type NodeClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let node: NodeClient;
let source: SourceView;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
  node = await server.dialAsNode();
  source = await house.source('Pier telephone');
});
afterAll(async () => {
  node.close();
  await server.stop();
});

const sha256Hex = (text: string): string => createHash('sha256').update(text).digest('hex');
const device = (): string => randomBytes(20).toString('hex');
const linesOf = (sourceId: string): readonly { sha256Hex: string; untilMs: number }[] =>
  node.desired?.sources.find((one) => one.sourceId === sourceId)?.lines ?? [];
const isOpen = (token: string): Promise<boolean> =>
  until(() => linesOf(source.id).some((line) => line.sha256Hex === sha256Hex(token)), 'the line at the node');

describe('the advice for an encoder', () => {
  test('is the largest picture that is safe for what was measured, or the one somebody chose', async () => {
    expect(source.advice).toBeNull();
    const path = `/api/sources/${source.id}/advice`;
    const measured = await house.ask<SourceView>('PUT', path, { uploadBps: 8_000_000, size: null });
    expect(measured.body.advice).toMatchObject({ uploadBps: 8_000_000, size: { name: '720p30' } });
    const chosen = await house.ask<SourceView>('PUT', path, { uploadBps: 8_000_000, size: '480p30' });
    expect(chosen.body.advice).toMatchObject({ uploadBps: 8_000_000, size: { name: '480p30' } });
    expect(chosen.body.advice!.measuredAtMs).toBe(measured.body.advice!.measuredAtMs);
    await house.ask('PUT', path, { uploadBps: 300_000, size: null });
    const { body } = await house.get<Page<SourceView>>('/api/sources');
    expect(body.items.find(({ id }) => id === source.id)!.advice).toMatchObject({ size: null });
  });

  test('takes no figure that no line has, and no size that there is not', async () => {
    const path = `/api/sources/${source.id}/advice`;
    for (const wish of [
      { uploadBps: -1, size: null },
      { uploadBps: 9e12, size: null },
      { uploadBps: null, size: '8k' },
    ])
      expect((await house.ask('PUT', path, wish)).status).toBe(422);
  });
});

describe('a line for a browser of the house', () => {
  test('opens the node for anyone who has its token, which stands nowhere', async () => {
    const { body } = await house.post<SendToken>(`/api/sources/${source.id}/lines`);
    expect(body.points.map(({ sendUrl }) => sendUrl)).toEqual(['ws://127.0.0.1:4610/send/v1']);
    await isOpen(body.token);
    expect(JSON.stringify(await server.happenings(source.id))).not.toContain(body.token);
  });

  test('is not given for a source that nobody sends to', async () => {
    const event = await house.event(600, 660);
    const { body: shown } = await house.post<SourceView>('/api/sources', {
      ...DEVICE,
      name: 'The chapel',
      kind: 'programme',
      followsEventId: event.id,
    });
    const { status, body } = await house.post<Problem>(`/api/sources/${shown.id}/lines`);
    expect([status, body.code]).toEqual([409, 'source-takes-no-camera']);
  });
});

describe('a guest', () => {
  const invite = async (eventId: string, name = 'Una of the pier'): Promise<GuestLink> =>
    (await house.post<GuestLink>(`/api/sources/${source.id}/guests`, { eventId, name })).body;
  const linkIn = ({ url }: GuestLink): string => url.split('/join/')[1]!;
  const open = (link: string, own = device()) =>
    server.anybody().post<GuestView & Problem>(`/api/public/guests/${link}/open`, { device: own });

  test('opens the link without an account, and may send and come back from the same browser alone', async () => {
    const event = await house.event(5, 65);
    const guest = await invite(event.id);
    expect(guest.state).toBe('waiting');
    const own = device();
    const { status, body } = await open(linkIn(guest), own);
    expect(status).toBe(200);
    expect(body).toMatchObject({ name: 'Una of the pier', isShown: false, event: { slug: event.slug } });
    await isOpen(own);
    expect((await open(linkIn(guest), own)).status).toBe(200);
    const second = await open(linkIn(guest));
    expect([second.status, second.body.code]).toEqual([409, 'guest-link-elsewhere']);
    const { body: list } = await house.get<Page<GuestLink>>(`/api/sources/${source.id}/guests`);
    expect(list.items[0]).toMatchObject({ id: guest.id, state: 'opened' });
  });

  test('of two who open a link in the same moment one gets it', async () => {
    const link = linkIn(await invite((await house.event(5, 65)).id));
    const answers = await Promise.all([open(link), open(link), open(link)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409]);
  });

  test('whose link is withdrawn is out at once, and back in when that is undone', async () => {
    const guest = await invite((await house.event(5, 65)).id);
    const own = device();
    await open(linkIn(guest), own);
    await isOpen(own);
    expect((await house.delete(`/api/guests/${guest.id}`)).status).toBe(204);
    await until(
      () => !linesOf(source.id).some((line) => line.sha256Hex === sha256Hex(own)),
      'the line to go',
    );
    expect((await open(linkIn(guest), own)).body.code).toBe('guest-link-withdrawn');
    expect((await house.post('/api/happenings/undo-last', { subjectId: source.id })).status).toBe(204);
    await isOpen(own);
  });

  test('comes too late after the event, and is not invited to one that is over', async () => {
    const event = await house.event(600, 660);
    const guest = await invite(event.id);
    await house.post(`/api/events/${event.id}/cancel`, { fromState: 'planned', notice: 'Storm' });
    const late = await open(linkIn(guest));
    expect([late.status, late.body.code]).toEqual([410, 'guest-link-over']);
    const again = await house.post<Problem>(`/api/sources/${source.id}/guests`, {
      eventId: event.id,
      name: 'X',
    });
    expect([again.status, again.body.code]).toEqual([409, 'guest-event-over']);
  });

  test('with a link that was never made learns nothing', async () => {
    expect((await open('0123456789abcdef')).status).toBe(404);
    expect((await open('x', 'no device')).status).toBe(422);
  });
});

describe('a source that shows something of the house', () => {
  const follow = (over: Partial<SourceView>) =>
    house.post<SourceView & Problem>('/api/sources', {
      ...DEVICE,
      name: 'The chapel',
      kind: 'programme',
      ...over,
    });

  test('says what it shows, and hands the node the programme', async () => {
    const chapel = await house.event(600, 660);
    const { body: shown } = await follow({ followsEventId: chapel.id });
    const { body } = await house.get<Page<SourceView>>('/api/sources?limit=200');
    expect(body.items.find(({ id }) => id === shown.id)).toMatchObject({
      kind: 'programme',
      shows: 'Lamplight Evensong',
    });
    await until(
      () => node.desired?.sources.find(({ sourceId }) => sourceId === shown.id)?.followsProgrammeId,
      'the programme at the node',
    );
  });

  test('has to show something, and something that is there', async () => {
    expect((await follow({})).body.code).toBe('shown-missing');
    const event = await house.event(600, 660);
    const elsewhere = await server.house();
    const theirs = await elsewhere.event(600, 660);
    expect((await follow({ followsEventId: theirs.id })).status).toBe(404);
    expect((await follow({ kind: 'device', followsEventId: event.id })).status).toBe(422);
    expect((await follow({ kind: 'file' })).status).toBe(422);
  });

  test('is never its own source, straight or round a corner', async () => {
    const [chapel, hall] = [await house.event(600, 660), await house.event(600, 660)];
    const { body: ofChapel } = await follow({ followsEventId: chapel.id });
    const { body: ofHall } = await follow({ followsEventId: hall.id });
    const choose = async (event: typeof chapel, sourceId: string) =>
      house.patch<Problem>(`/api/events/${event.id}`, (await house.current(event)).version, { sourceId });
    const itself = await choose(chapel, ofChapel.id);
    expect([itself.status, itself.body.code]).toEqual([422, 'its-own-source']);
    expect((await choose(hall, ofChapel.id)).status).toBe(200);
    expect((await choose(chapel, ofHall.id)).body.code).toBe('its-own-source');
    const turned = await house.patch<Problem>(`/api/sources/${ofChapel.id}`, ofChapel.version, {
      followsEventId: hall.id,
    });
    expect(turned.body.code).toBe('its-own-source');
  });

  test('can be had by two events at once, which is no clash', async () => {
    const chapel = await house.event(900, 960);
    const { body: shown } = await follow({ followsEventId: chapel.id });
    const two = [await house.event(900, 960), await house.event(900, 960)];
    for (const event of two)
      await house.patch(`/api/events/${event.id}`, (await house.current(event)).version, {
        sourceId: shown.id,
      });
    expect((await house.current(two[0]!)).clash).toBeNull();
  });
});
