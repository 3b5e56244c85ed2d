import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { PublicChannel } from '@heliphon/contracts/channels';
import sharp from 'sharp';
import type { KeptGround, KeptLogo, LookView } from '@heliphon/contracts/look';
import type { ReadinessView } from '@heliphon/contracts/events';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import type { Role } from '@heliphon/core/access/capabilities';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { USUAL_LOOK } from '@heliphon/core/appearance/look';
import { paletteOf } from '@heliphon/core/appearance/palette';
import { LogosService } from '../src/looks/logos.service.js';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());

const look = async (path: string, by = house): Promise<LookView> => (await by.get<LookView>(path)).body;
const say = async (path: string, own: object, by = house) =>
  by.put<LookView>(path, (await look(path, by)).version, { own });
const page = async (slug: string): Promise<PublicEvent> =>
  (await house.get<PublicEvent>(`/api/public/events/${slug}`)).body;

describe('a look', () => {
  test('is the usual one until somebody says something', async () => {
    house = await server.house();
    const event = await house.event(600, 660);
    expect(await look('/api/looks/house')).toMatchObject({
      level: 'house',
      own: {},
      above: { value: USUAL_LOOK },
      slug: event.slug,
    });
    expect((await page(event.slug)).look.palette).toEqual(paletteOf(USUAL_LOOK));
  });

  test('comes down from the house to channel, series and event, each saying what it wants', async () => {
    house = await server.house();
    const { body: channel } = await house.post<{ id: string; slug: string; version: number }>(
      '/api/channels',
      {
        name: 'Chapel',
        description: '',
      },
    );
    const series = await house.series({ channelId: channel.id });
    const of = `/api/looks/series/${series.id}`;
    await say('/api/looks/house', { accent: '#112233', foot: 'All are welcome', cornerPx: 0 });
    await say(`/api/looks/channel/${channel.id}`, { accent: '#334455', showsOurs: false });
    expect((await say(of, { ground: '#fafafa' })).body.above.from).toMatchObject({
      accent: 'channel',
      foot: 'house',
      text: 'usual',
    });
    const { slug } = await look(of);
    expect((await page(slug!)).look).toMatchObject({
      palette: { ground: '#fafafa', accent: '#334455' },
      foot: 'All are welcome',
      cornerPx: 0,
      showsOurs: false,
    });
    // The channel's own page knows nothing of the series.
    const shown = await house.get<PublicChannel>(`/api/public/channels/${channel.slug}`);
    expect(shown.body.look.palette).toMatchObject({ accent: '#334455', ground: USUAL_LOOK.ground });
  });

  test('goes back to what stands above once nothing is said, and can be undone', async () => {
    house = await server.house();
    const event = await house.event(600, 660);
    const of = `/api/looks/event/${event.id}`;
    await say(of, { text: '#000000' });
    expect((await say(of, {})).body).toMatchObject({ own: {}, above: { value: { text: USUAL_LOOK.text } } });
    await house.post('/api/happenings/undo-last', { subjectId: event.id });
    expect((await look(of)).own).toEqual({ text: '#000000' });
    await say('/api/looks/house', { text: '#222222' });
    await house.post('/api/happenings/undo-last', { subjectId: house.houseId });
    expect((await look('/api/looks/house')).own).toEqual({});
  });

  test('of an event is back with it when it was deleted by mistake', async () => {
    house = await server.house();
    const event = await house.event(600, 660);
    await say(`/api/looks/event/${event.id}`, { accent: '#0a5a50' });
    await house.delete(`/api/events/${event.id}`);
    await house.post('/api/happenings/undo-last', { subjectId: event.id });
    expect((await look(`/api/looks/event/${event.id}`)).own).toEqual({ accent: '#0a5a50' });
  });

  test('is that of an event’s rehearsal too', async () => {
    house = await server.house();
    const source = await house.source('Chapel desk');
    const event = await house.event(600, 660, source.id);
    await say(`/api/looks/event/${event.id}`, { warm: '#ffcc00' });
    const { body: rehearsal } = await house.post<{ slug: string }>(`/api/events/${event.id}/rehearsals`, {});
    expect((await page(rehearsal.slug)).look.palette.warm).toBe('#ffcc00');
    // Nobody tries a look out on what is private.
    expect((await look('/api/looks/house')).slug).toBe(event.slug);
  });
});

test('a page that many cannot read is warned of before its event goes on air', async () => {
  house = await server.house();
  const event = await house.event(600, 660);
  const found = async () => {
    const { checks } = (await house.get<ReadinessView>(`/api/events/${event.id}/readiness`)).body;
    return checks.find(({ code }) => code === 'look');
  };
  expect(await found()).toMatchObject({ status: 'passed' });
  await say('/api/looks/house', { text: '#999999', links: '#aaaaaa' });
  expect(await found()).toMatchObject({ status: 'warns', detail: { count: 2 } });
  await say(`/api/looks/event/${event.id}`, { text: '#111111' });
  expect(await found()).toMatchObject({ status: 'warns', detail: { count: 1 } });
});

describe('who may say how it looks', () => {
  test('the house is its owners’, the rest its planners’', async () => {
    house = await server.house();
    const event = await house.event(600, 660);
    const of = `/api/looks/event/${event.id}`;
    const producer = await server.member(house.houseId, 'producer');
    const operator = await server.member(house.houseId, 'operator');
    expect((await say('/api/looks/house', { cornerPx: 2 }, producer)).status).toBe(403);
    expect((await say(of, { cornerPx: 2 }, producer)).status).toBe(200);
    expect((await say(of, { cornerPx: 4 }, operator)).status).toBe(403);
    const stranger = await server.house('owner');
    expect((await stranger.get(of)).status).toBe(404);
    expect((await stranger.put(of, 1, { own: {} })).status).toBe(404);
  });

  test('nobody reaches another house’s, nor one thing under the name of another, nor undoes what they may not do', async () => {
    house = await server.house();
    const series = await house.series({ title: 'Evensong' });
    const { body: channel } = await house.post<{ id: string }>('/api/channels', {
      name: 'Hall',
      description: '',
    });
    const paths = [`/api/looks/series/${series.id}`, `/api/looks/channel/${channel.id}`];
    const stranger = await server.house('owner');
    for (const path of paths) {
      expect((await stranger.get(path)).status).toBe(404);
      expect((await stranger.put(path, 1, { own: {} })).status).toBe(404);
    }
    expect((await house.get(`/api/looks/channel/${series.id}`)).status).toBe(404);
    expect((await house.put(`/api/looks/event/${channel.id}`, 1, { own: {} })).status).toBe(404);
    await say(paths[0]!, { cornerPx: 1 });
    await say('/api/looks/house', { cornerPx: 1 });
    const { body: record } = await house.get<Page<ActivityEntry>>('/api/happenings');
    const undo = async (role: Role, kind: string): Promise<number> => {
      const { id } = record.items.find((entry) => entry.kind === kind)!;
      return (await (await server.member(house.houseId, role)).post(`/api/happenings/${id}/undo`)).status;
    };
    expect(await undo('operator', 'look-set')).toBe(403);
    expect(await undo('producer', 'house-look-set')).toBe(403);
    expect((await look(paths[0]!)).own).toEqual({ cornerPx: 1 });
  });

  test('somebody who did not see the latest is told so, and sees it', async () => {
    house = await server.house();
    const { version } = await look('/api/looks/house');
    await house.put('/api/looks/house', version, { own: { cornerPx: 3 } });
    const late = await house.put<Problem & { current: LookView }>('/api/looks/house', version, { own: {} });
    expect(late.status).toBe(412);
    expect(late.body.current.own).toEqual({ cornerPx: 3 });
  });

  test.each([
    ['a colour by name', { ground: 'tomato' }, 'own.ground'],
    ['an address in place of a colour', { text: 'url(//x.example)' }, 'own.text'],
    ['a corner of a hundred', { cornerPx: 100 }, 'own.cornerPx'],
    ['a type size of its own', { typeSizePercent: 90 }, 'own.typeSizePercent'],
    ['a foot that never ends', { foot: 'x'.repeat(301) }, 'own.foot'],
    ['a part that there is not', { script: 'x' }, 'own.script'],
  ])('%s is refused', async (_what, own, path) => {
    house = await server.house();
    const answer = await say('/api/looks/house', own);
    expect(answer.status).toBe(422);
    expect((answer.body as never as Problem).fields?.map((field) => field.path)).toEqual([path]);
  });

  test('a level that there is not is none', async () => {
    house = await server.house();
    expect((await house.get(`/api/looks/planet/${house.houseId}`)).status).toBe(422);
  });
});

describe('a logo', () => {
  const SVG =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 34 34"><circle cx="17" cy="17" r="9" fill="#24405c"/></svg>';
  const upload = (file: Uint8Array | string, by = house) =>
    by.upload<KeptLogo & Problem>(
      '/api/looks/logos',
      typeof file === 'string' ? Buffer.from(file) : file,
      'logo',
    );
  const picture = (width: number, height: number): Promise<Buffer> =>
    sharp({ create: { width, height, channels: 4, background: '#24405c80' } })
      .png()
      .toBuffer();
  const shown = async (id: string) => {
    const answer = await fetch(`${server.url}/logos/${id}`);
    return {
      type: answer.headers.get('content-type'),
      headers: answer.headers,
      bytes: Buffer.from(await answer.arrayBuffer()),
    };
  };

  test('is a part of the look: it comes down, may differ, and may be none', async () => {
    house = await server.house();
    const event = await house.event(600, 660);
    const { id } = (await upload(SVG)).body;
    await say('/api/looks/house', { logo: id });
    expect((await page(event.slug)).look.logoUrl).toBe(`/logos/${id}`);
    await say(`/api/looks/event/${event.id}`, { logo: null });
    expect((await page(event.slug)).look.logoUrl).toBeNull();
  });

  test('is fitted, whatever its size, and keeps its clear ground', async () => {
    const { id } = (await upload(await picture(2000, 500))).body;
    const { type, bytes, headers } = await shown(id);
    expect(type).toBe('image/png');
    expect(headers.get('content-security-policy')).toContain('sandbox');
    expect(await sharp(bytes).metadata()).toMatchObject({ width: 512, height: 128, hasAlpha: true });
  });

  test('that is a drawing is cleaned of everything that does not draw', async () => {
    const made = `<?xml version="1.0"?><!-- by a program --><svg viewBox="0 0 9 9" xmlns:tool="urn:tool" tool:version="7"><metadata><tool:x>1</tool:x></metadata><path d="M0 0h9" tool:label="a" style="fill:red"/></svg>`;
    const { id } = (await upload(made)).body;
    expect((await shown(id)).bytes.toString()).toBe(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9"></path></svg>',
    );
  });

  test.each([
    ['<svg><script>alert(1)</script><path d="M0 0"/></svg>', 'logo-not-let-in'],
    ['<svg onload="alert(1)"><path d="M0 0"/></svg>', 'logo-not-let-in'],
    ['<svg><foreignObject><p>hello</p></foreignObject></svg>', 'logo-not-let-in'],
    ['<svg><use href="https://elsewhere.example/x.svg#a"/></svg>', 'logo-not-let-in'],
    ['<svg><rect fill="url(https://elsewhere.example/x)"/></svg>', 'logo-not-let-in'],
    ['<svg xmlns="http://www.w3.org/2000/svg"></svg>', 'logo-no-picture'],
    ['<html><svg></svg></html>', 'logo-no-picture'],
    [`<svg>${'<path d="M0 0"/>'.repeat(6000)}</svg>`, 'logo-too-much'],
    [`<svg><path d="${'M0 0'.repeat(60_000)}"/></svg>`, 'logo-too-large'],
    ['just words', 'logo-no-picture'],
    ['', 'logo-missing'],
  ])('is refused with the reason: %.60s', async (file, code) => {
    expect((await upload(file)).body.code).toBe(code);
  });

  test('of too many pixels, or hardly any, is refused; so is one of another house', async () => {
    house = await server.house();
    expect((await upload(await picture(20_000, 3000))).body.code).toBe('logo-too-many-pixels');
    expect((await upload(await picture(12, 200))).body.code).toBe('logo-too-small');
    const stranger = await server.house();
    const { id } = (await upload(SVG, stranger)).body;
    expect((await say('/api/looks/house', { logo: id })).body).toMatchObject({ code: 'logo-missing' });
    const moderator = await server.member(house.houseId, 'moderator');
    expect((await upload(SVG, moderator)).status).toBe(403);
    expect((await fetch(`${server.url}/logos/${house.houseId}`)).status).toBe(404);
  });

  test('that no look has shown for a long time is let go', async () => {
    house = await server.house();
    const [used, unused] = [(await upload(SVG)).body.id, (await upload(SVG)).body.id];
    await say('/api/looks/house', { logo: used });
    await server.setClock(91 * 86_400_000);
    await server.app.get(LogosService).tidy();
    await server.setClock(0);
    const statuses = await Promise.all(
      [used, unused].map(async (id) => (await fetch(`${server.url}/logos/${id}`)).status),
    );
    expect(statuses).toEqual([200, 404]);
  });
});

describe('a picture behind the page', () => {
  const upload = (file: Uint8Array, by = house) =>
    by.upload<KeptGround & Problem>('/api/looks/grounds', file, 'picture');
  /** Dark at its left, light at its right. */
  const picture = async (width: number, height: number): Promise<Buffer> => {
    const half = { width: Math.ceil(width / 2), height, channels: 3, background: '#ffffff' } as const;
    const light = await sharp({ create: half }).png().toBuffer();
    return sharp({ create: { width, height, channels: 3, background: '#101010' } })
      .composite([{ input: light, left: Math.floor(width / 2), top: 0 }])
      .png()
      .toBuffer();
  };

  test('is fitted, told with where words show worst on it, and shown under its veil', async () => {
    house = await server.house();
    const event = await house.event(600, 660);
    const { id, spots } = (await upload(await picture(4000, 1000))).body;
    expect([spots.darkest.x < 0.5, spots.lightest.x > 0.5, spots.lightest.colour]).toEqual([
      true,
      true,
      '#ffffff',
    ]);
    const answer = await fetch(`${server.url}/grounds/${id}`);
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'image/jpeg']);
    expect(await sharp(Buffer.from(await answer.arrayBuffer())).metadata()).toMatchObject({
      width: 1920,
      height: 480,
    });
    // What somebody makes up of its spots counts for nothing.
    const grey = { colour: '#808080', x: 0, y: 0 };
    const said = { id, fit: 'tile', veilPercent: 30, spots: { darkest: grey, lightest: grey } };
    expect((await say('/api/looks/house', { picture: said })).body.own.picture).toEqual({ ...said, spots });
    expect((await page(event.slug)).look.picture).toEqual({
      url: `/grounds/${id}`,
      fit: 'tile',
      veilPercent: 30,
      nightVeilPercent: 80,
    });
  });

  test('that is none, is far too large, hardly there, or another house’s, is refused with the reason', async () => {
    house = await server.house();
    expect((await upload(Buffer.from('just words'))).body.code).toBe('ground-no-picture');
    expect((await upload(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'))).body.code).toBe(
      'ground-no-picture',
    );
    expect((await upload(await picture(1, 1))).body.code).toBe('ground-too-small');
    expect((await upload(await picture(20_000, 6000))).body.code).toBe('ground-too-many-pixels');
    const stranger = await server.house();
    const { id, spots } = (await upload(await picture(300, 300), stranger)).body;
    const said = { picture: { id, fit: 'cover', veilPercent: 50, spots } };
    expect((await say('/api/looks/house', said)).body).toMatchObject({ code: 'ground-missing' });
    expect((await say('/api/looks/house', { picture: { ...said.picture, veilPercent: 100 } })).status).toBe(
      422,
    );
  });
});

describe('what stands beside the picture', () => {
  test('comes in the order that was chosen, with the next dates that anybody may come across', async () => {
    house = await server.house();
    const series = await house.series({ description: 'Every week' });
    const companions = ['dates', 'sheet', 'words'];
    await say('/api/looks/house', { companions, words: 'Tea afterwards: https://quay.example/tea' });
    const { slug } = await look(`/api/looks/series/${series.id}`);
    const shown = await page(slug!);
    expect(shown.look).toMatchObject({ companions, words: expect.stringContaining('Tea') });
    expect(shown.next).toHaveLength(4);
    expect(shown.next.map((one) => one.slug)).not.toContain(slug);
    const path = `/api/watching/series/${series.id}`;
    const { version } = (await house.get<{ version: number }>(path)).body;
    await house.put(path, version, { own: { live: 'link' } });
    expect((await page(slug!)).next).toEqual([]);
  });

  test('is asked for only where somebody wants it', async () => {
    house = await server.house();
    await house.series({ description: 'Every week' });
    const { slug } = await look('/api/looks/house');
    expect((await page(slug!)).next).toEqual([]);
  });

  test.each([
    [{ companions: ['sheet', 'sheet'] }],
    [{ companions: ['adverts'] }],
    [{ giveUrl: 'http://quay.example/give' }],
    [{ giveUrl: 'javascript:alert(1)' }],
    [{ words: 'x'.repeat(2001) }],
  ])('is refused where it makes no sense: %#', async (own) => {
    house = await server.house();
    expect((await say('/api/looks/house', own)).status).toBe(422);
  });
});
