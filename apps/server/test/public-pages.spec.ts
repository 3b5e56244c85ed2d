import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { ASSET, type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

describe('public pages', () => {
  test('carry a card for other sites, and their own policy', async () => {
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { title: 'Bells & "Tea" <b>' });
    const page = await server.anybody().get<string>(`/watch/${event.slug}`);
    expect(page.body).toContain(
      '<meta property="og:title" content="Bells &#38; &#34;Tea&#34; &#60;b&#62;" />',
    );
    expect(page.body).toContain('application/json+oembed');
    const player = `<meta property="og:video" content="${server.url}/embed/${event.slug}" />`;
    expect(page.body).toContain(player);
    expect(page.body).toMatch(/"og:video:width" content="\d+".*\n.*"og:video:height" content="\d+"/);
    expect(page.headers.get('content-security-policy')).toContain("frame-ancestors 'self'");
    const embed = await server.anybody().get<string>(`/embed/${event.slug}`);
    expect(embed.headers.get('content-security-policy')).toContain('frame-ancestors *');
    expect(embed.headers.get('x-frame-options')).toBeNull();
    for (const { headers } of [page, embed]) {
      expect(headers.get('content-security-policy')).toContain("script-src 'self'");
      expect(headers.get('x-content-type-options')).toBe('nosniff');
    }
    expect((await server.anybody().get('/watch/nothing-here')).status).toBe(404);
  });

  test('are asked for over a connection that outlasts the patience of a proxy', async () => {
    const { headers } = await server.anybody().get('/api/health');
    expect(headers.get('keep-alive')).toBe('timeout=75');
  });

  test('become an embed from their bare link, in the size a site allows', async () => {
    const event = await house.event(600, 660);
    const ask = (query: string) => server.anybody().get<Record<string, string | number>>(`/oembed?${query}`);
    const link = encodeURIComponent(`${server.url}/watch/${event.slug}`);
    const { body, headers } = await ask(`url=${link}&maxwidth=480`);
    expect(body).toMatchObject({ version: '1.0', type: 'video', title: event.title, width: 480 });
    expect(body.html).toContain(`src="${server.url}/embed/${event.slug}"`);
    expect(headers.get('access-control-allow-origin')).toBe('*');
    expect((await ask(`url=${encodeURIComponent('https://elsewhere.example/watch/x')}`)).status).toBe(404);
    const xml = String((await ask(`url=${link}&format=xml`)).body);
    expect(xml).toContain('<version>1.0</version>');
    expect(xml).toContain('<html>&#60;iframe src=');
    expect((await ask(`url=${link}&format=yaml`)).status).toBe(501);
    expect((await ask('maxwidth=480')).status).toBe(400);
  });

  test('can be asked from any website, by what is public alone', async () => {
    const event = await house.event(600, 660);
    const from = { origin: 'https://parish.example' };
    const path = `/api/public/events/${event.slug}`;
    const asked = await server.anybody().ask('GET', path, undefined, from);
    expect(asked.headers.get('access-control-allow-origin')).toBe('*');
    expect(asked.headers.get('access-control-allow-credentials')).toBeNull();
    const preflight = { ...from, 'access-control-request-method': 'POST' };
    const { status, headers } = await server.anybody().ask('OPTIONS', `${path}/chat`, undefined, preflight);
    expect([status, headers.get('access-control-allow-headers')]).toEqual([
      204,
      'Content-Type,Authorization,Heliphon-Admission,Heliphon-Pass',
    ]);
    const joined = await server.anybody().ask('POST', `${path}/chat/join`, { name: 'Wren' }, from);
    expect(joined.status).not.toBe(403);
    const session = await server.anybody().ask('POST', '/api/session', {}, from);
    expect([session.status, session.headers.get('access-control-allow-origin')]).toEqual([403, null]);
    const script = await server.anybody().ask('GET', '/embed.js', undefined, from);
    expect(script.headers.get('access-control-allow-origin')).toBe('*');
  });

  test('tell search engines what is on, and of what anybody may come across', async () => {
    const event = await house.event(600, 660);
    const page = await (await fetch(`${server.url}/watch/${event.slug}`)).text();
    const [, json] = /<script type="application\/ld\+json">(.*?)<\/script>/.exec(page)!;
    expect(JSON.parse(json!)).toMatchObject({
      '@type': 'BroadcastEvent',
      name: event.title,
      isLiveBroadcast: false,
      startDate: new Date(event.startsAtMs).toISOString(),
    });
    const listed = await (await fetch(`${server.url}/sitemap.xml`)).text();
    expect(listed).toContain(`<loc>${server.url}/watch/${event.slug}</loc>`);
    expect(await (await fetch(`${server.url}/robots.txt`)).text()).toContain('/sitemap.xml');
  });

  test('send what they are made of packed, as the browser can unpack it', async () => {
    const ask = async (accepts: string) => {
      const answer = await fetch(`${server.url}/assets/page.js`, { headers: { 'accept-encoding': accepts } });
      expect(answer.headers.get('cache-control')).toContain('immutable');
      expect(answer.headers.get('content-type')).toContain('javascript');
      expect(await answer.text()).toBe(ASSET);
      return [answer.headers.get('content-encoding'), answer.headers.get('vary')];
    };
    expect(await ask('gzip, deflate, br')).toEqual(['br', expect.stringContaining('Accept-Encoding')]);
    expect((await ask('gzip'))[0]).toBe('gzip');
    expect((await ask('identity'))[0]).toBeNull();
    expect((await fetch(`${server.url}/assets/gone.js`)).status).toBe(404);
  });

  test('remind by a calendar file', async () => {
    const event = await house.event(600, 660);
    const { body, headers } = await server
      .anybody()
      .get<string>(`/api/public/events/${event.slug}/reminder.ics`);
    expect(headers.get('content-type')).toContain('text/calendar');
    for (const line of ['BEGIN:VEVENT', `SUMMARY:${event.title}`, 'TRIGGER:-PT15M'])
      expect(body).toContain(line);
  });
});
