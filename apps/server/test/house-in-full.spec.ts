import { randomUUID } from 'node:crypto';
import { inflateRawSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { DiscoveryService, MetadataScanner } from '@nestjs/core';
import sharp from 'sharp';
import { CAPABILITY_ROLES, type Capability, ROLES, type Role } from '@heliphon/core/access/capabilities';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import type { ChatMessage, ChatPage, ChatPerson, JoinedChat } from '@heliphon/contracts/chat';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { HouseView, RecordingFiles, RecordingView } from '@heliphon/contracts/house';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { SourceHappening, SourceView } from '@heliphon/contracts/sources';
import { routesOf } from '../src/platform/routes.js';
import { checkSchema } from '../src/platform/schema-check.js';
import { type HouseClient, PASSWORD, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

const routes = () => routesOf(server.app.get(DiscoveryService), server.app.get(MetadataScanner));

describe('every route', () => {
  test('asks every role for what the table says, and lets nobody else in', async () => {
    const roles: [Role | 'nobody', { ask: HouseClient['ask'] }][] = [['nobody', server.anybody()]];
    for (const role of ROLES) roles.push([role, await server.member(house.houseId, role)]);
    for (const { method, path, need } of routes()) {
      if (need === 'public' || path === '/api/session' || path === '/api/house') continue;
      const address = path.replace(/:\w+/g, randomUUID());
      for (const [role, client] of roles) {
        const { status } = await client.ask(method, address, method === 'GET' ? undefined : {});
        const isBarred =
          role === 'nobody'
            ? 401
            : need === 'own-session' ||
                !(CAPABILITY_ROLES[need as Capability] as readonly Role[]).includes(role)
              ? 403
              : null;
        const what = [method, path, role];
        if (isBarred) expect([...what, status]).toEqual([...what, isBarred]);
        else expect([...what, [401, 403].includes(status)]).toEqual([...what, false]);
      }
    }
  }, 120_000);

  test('knows nothing of another house’s things', async () => {
    const other = await server.house();
    const [event, source] = [await house.event(600, 660), await house.source()];
    const { body: place } = await house.post<DestinationView>('/api/destinations', {
      name: 'Relay',
      address: 'rtmp://a.example/b/c',
    });
    const known: Record<string, string> = { events: event.id, sources: source.id, destinations: place.id };
    for (const { method, path } of routes()) {
      const [, , room] = path.split('/');
      const id = known[room!];
      if (!id || !path.includes(':id')) continue;
      const address = path.replace(':id', id).replace(/:\w+/g, randomUUID());
      const body = {
        title: 'X',
        name: 'X',
        commandId: randomUUID(),
        fromState: 'planned',
        paused: true,
        text: 'x',
        messageId: randomUUID(),
      };
      const { status } = await other.ask(method, address, method === 'GET' ? undefined : body, {
        'if-match': '1',
      });
      expect([method, path, [404, 422].includes(status)]).toEqual([method, path, true]);
    }
    expect((await house.current(event)).title).toBe(event.title);
  });

  test('is described, with the contract of its body and the problem it may answer with', async () => {
    const { body } = await server.anybody().get<OpenApi>('/api/openapi.json');
    expect(body.openapi).toBe('3.1.0');
    for (const { method, path } of routes())
      expect([path, body.paths[path.replace(/:(\w+)/g, '{$1}')]?.[method.toLowerCase()]]).not.toContain(
        undefined,
      );
    const plan = body.paths['/api/events']!.post!.requestBody!.content['application/json'].schema;
    expect(plan).toMatchObject({
      type: 'object',
      required: expect.arrayContaining(['title', 'startsAtLocal']),
    });
  });
});

interface OpenApi {
  readonly openapi: string;
  readonly paths: Record<
    string,
    Record<string, { requestBody?: { content: { 'application/json': { schema: object } } } }>
  >;
}

describe('what was changed', () => {
  const undoLast = (subjectId: string) => house.post<Problem>('/api/happenings/undo-last', { subjectId });

  test('an edit of an event is taken back: its own fields, and only where nobody changed them since', async () => {
    const event = await house.event(600, 660);
    const first = (
      await house.patch<EventView>(`/api/events/${event.id}`, event.version, {
        title: 'Sunrise',
        doorsMinutes: 5,
      })
    ).body;
    await house.patch(`/api/events/${event.id}`, first.version, { description: 'Bring a lamp' });
    const [described, renamed] = (
      await house.get<Page<ActivityEntry>>(`/api/happenings?subjectId=${event.id}`)
    ).body.items;
    await house.post(`/api/happenings/${renamed!.id}/undo`);
    expect(await house.current(event)).toMatchObject({
      title: event.title,
      doorsMinutes: 15,
      description: 'Bring a lamp',
    });
    const again = await house.post<Problem>(`/api/happenings/${renamed!.id}/undo`);
    expect(again).toMatchObject({ status: 409, body: { code: 'undone-already' } });
    await house.patch(`/api/events/${event.id}`, (await house.current(event)).version, {
      description: 'Bring two',
    });
    const stale = await house.post<Problem>(`/api/happenings/${described!.id}/undo`);
    expect(stale.body.code).toBe('changed-since');
  });

  test('what was deleted comes back as it was: event, source with its key, place with its secret', async () => {
    const event = await house.event(600, 660);
    await house.delete(`/api/events/${event.id}`);
    expect((await undoLast(event.id)).status).toBe(204);
    expect(await house.current(event)).toMatchObject({ title: event.title, slug: event.slug });

    const source = await house.source('Tower');
    const key = (await house.get<{ key: string }>(`/api/sources/${source.id}/key`)).body.key;
    await house.delete(`/api/sources/${source.id}`);
    await undoLast(source.id);
    expect((await house.get<{ key: string }>(`/api/sources/${source.id}/key`)).body.key).toBe(key);

    const address = 'rtmps://ann:pw@relay.example/live/secret-key';
    const { body: place } = await house.post<DestinationView>('/api/destinations', {
      name: 'Relay',
      address,
    });
    await house.delete(`/api/destinations/${place.id}`);
    await undoLast(place.id);
    const shown = await house.post<{ address: string }>(`/api/destinations/${place.id}/address`);
    expect(shown.body.address).toBe('rtmps://ann:pw@relay.example:443/live/secret-key');
  });

  test('the record is searched by words and by person, page by page, and holds no secret', async () => {
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { title: 'Candlemas procession' });
    const found = await house.get<Page<ActivityEntry>>('/api/happenings?words=Candlemas');
    expect(found.body.items.map((entry) => entry.kind)).toEqual(['event-edited']);
    const page = await house.get<Page<ActivityEntry>>('/api/happenings?limit=2');
    const next = await house.get<Page<ActivityEntry>>(`/api/happenings?limit=2&after=${page.body.next}`);
    expect(new Set([...page.body.items, ...next.body.items].map(({ id }) => id)).size).toBe(4);
    const all = JSON.stringify((await house.get('/api/happenings?limit=200')).body);
    expect(all).not.toMatch(/v1\.[0-9a-f]{8}\.|Sha256|Verifier/);
  });

  test('a stale edit is answered with the present state, so that both versions can be shown', async () => {
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { title: 'Theirs' });
    const stale = await house.patch<Problem>(`/api/events/${event.id}`, event.version, { title: 'Ours' });
    expect(stale).toMatchObject({
      status: 412,
      body: { current: { title: 'Theirs', version: event.version + 1 } },
    });
  });
});

describe('lists', () => {
  test('are paged by a cursor that loses nothing, even where names are equal', async () => {
    const own = await server.house();
    for (let count = 0; count < 7; count += 1) await own.source('Same name');
    const seen: string[] = [];
    for (let after = ''; ;) {
      const { body } = await own.get<Page<SourceView>>(`/api/sources?limit=3${after}`);
      seen.push(...body.items.map(({ id }) => id));
      if (!body.next) break;
      after = `&after=${body.next}`;
    }
    expect(new Set(seen).size).toBe(7);
    expect((await own.get<Problem>('/api/sources?after=nonsense')).body.code).toBe('not-a-cursor');
  });
});

describe('a source', () => {
  test('remembers who came, went and was turned away', async () => {
    const node = await server.dialAsNode();
    const source = await house.source('Pier');
    node.observe(9001, {
      kind: 'source-came',
      sourceId: source.id,
      protocol: 'rtmps',
      remoteAddress: '10.1.1.1',
      atMs: 1,
    });
    node.observe(9002, { kind: 'source-went', sourceId: source.id, reason: 'The encoder stopped', atMs: 2 });
    await until(() => node.storedSeq >= 9002, 'both to be stored');
    const { body } = await house.get<Page<SourceHappening>>(`/api/sources/${source.id}/history`);
    expect(body.items).toMatchObject([
      { kind: 'source-went', reason: 'The encoder stopped' },
      { kind: 'source-came', protocol: 'rtmps', remoteAddress: '10.1.1.1' },
    ]);
    node.close();
  });
});

describe('a recording', () => {
  async function kept(client: HouseClient): Promise<RecordingView> {
    const node = await server.dialAsNode();
    const event = await client.event(60, 120);
    const air = (await client.move(event, 'go-on-air')).body;
    await client.move(air, 'end');
    const seq = Date.now();
    node.observe(seq, {
      kind: 'recording-kept',
      programmeId: event.programmeId,
      durationMs: 60_000,
      sizeBytes: 1e7,
      atMs: Date.now(),
    });
    await until(() => node.storedSeq >= seq, 'the recording');
    node.close();
    const { body } = await client.get<Page<RecordingView>>('/api/recordings');
    return body.items.find((recording) => recording.eventId === event.id)!;
  }

  test('is renamed, described and given a picture; all of it can be taken back', async () => {
    const recording = await kept(house);
    const named = await house.patch<RecordingView>(`/api/recordings/${recording.id}`, recording.version, {
      title: 'As sung',
    });
    expect(named.body).toMatchObject({ title: 'As sung', description: recording.description });
    const jpeg = await sharp({ create: { width: 640, height: 360, channels: 3, background: '#345' } })
      .jpeg()
      .toBuffer();
    const pictured = await house.upload<RecordingView>(`/api/recordings/${recording.id}/poster`, jpeg);
    expect(pictured.body.posterUrl).toMatch(/^\/posters\//);
    await house.post('/api/happenings/undo-last', { subjectId: recording.id });
    expect((await house.get<RecordingView>(`/api/recordings/${recording.id}`)).body.posterUrl).toBeNull();
    const { body } = await house.get<RecordingFiles>(`/api/recordings/${recording.id}/files`);
    expect(body.mp4).toContain('/recording.mp4?name=As%20sung');
  });

  test('goes to the bin and back; the public sees it only while it is kept', async () => {
    const recording = await kept(house);
    const replay = async () =>
      (await server.anybody().get<{ playback: object | null }>(`/api/public/events/${recording.slug}`)).body
        .playback;
    expect(await replay()).not.toBeNull();
    await house.post(`/api/recordings/${recording.id}/bin`);
    await until(async () => (await replay()) === null, 'it to be hidden');
    const bin = await house.get<Page<RecordingView>>('/api/recordings?in=bin');
    expect(bin.body.items.map(({ id }) => id)).toContain(recording.id);
    await house.post(`/api/recordings/${recording.id}/restore`);
    await until(async () => (await replay()) !== null, 'it to be back');
    expect((await house.delete<Problem>(`/api/recordings/${recording.id}`)).body.code).toBe('not-in-the-bin');
  });

  test('deleted for good is named to the node until it says that it is gone', async () => {
    const recording = await kept(house);
    const node = await server.dialAsNode();
    await house.post(`/api/recordings/${recording.id}/bin`);
    expect((await house.delete(`/api/recordings/${recording.id}`)).status).toBe(204);
    const removal = await until(() => node.desired?.removedRecordings.at(-1), 'the removal');
    const seq = Date.now() + 10;
    node.observe(seq, { kind: 'recording-removed', programmeId: removal.programmeId, atMs: Date.now() });
    await until(() => node.storedSeq >= seq, 'it to be stored');
    await house.source('to make a new state');
    await until(() => node.desired?.removedRecordings.length === 0, 'nothing more to remove');
    node.close();
  });

  test('lying longest in the bin goes first when the disk runs low', async () => {
    const [older, newer] = [await kept(house), await kept(house)];
    for (const { id } of [older, newer]) await house.post(`/api/recordings/${id}/bin`);
    const node = await server.dialAsNode();
    const report = setInterval(() => node.report({ disk: 'low' }), 500);
    await until(() => node.desired?.removedRecordings.length === 1, 'one removal', 20_000);
    clearInterval(report);
    const { body } = await house.get<Page<RecordingView>>('/api/recordings?in=bin');
    const ids = body.items.map(({ id }) => id);
    expect([ids.includes(older.id), ids.includes(newer.id)]).toEqual([false, true]);
    node.close();
  });
});

describe('a chat', () => {
  test('hides a person with all they say, shows who is here, and brings everything back', async () => {
    const event = await house.event(5, 60);
    const { slug } = (await house.move(event, 'open-doors')).body;
    const room = `/api/public/events/${slug}/chat`;
    const join = await server
      .anybody()
      .post<JoinedChat>(`${room}/join`, { name: 'Loud Larry', acceptsRules: true });
    const say = (text: string) =>
      server
        .anybody()
        .post<ChatMessage>(
          room,
          { text, messageId: randomUUID() },
          { authorization: `Bearer ${join.body.token}` },
        );
    await say('First');
    const chat = `/api/events/${event.id}/chat`;
    const [larry] = (await house.get<Page<ChatPerson>>(`${chat}/people`)).body.items;
    expect(larry).toMatchObject({ name: 'Loud Larry', messages: 1, hiddenBy: null });
    await house.post(`${chat}/people/${larry!.id}/hide`);
    await say('Second');
    const shown = async () =>
      (await server.anybody().get<ChatPage>(room)).body.messages
        .toSorted((a, b) => a.seq - b.seq)
        .map(({ text }) => text);
    expect(await shown()).toEqual([null, null]);
    const said = await house.get<ChatPage>(`${chat}/people/${larry!.id}`);
    expect(said.body.messages.map(({ text }) => text)).toEqual(['First', 'Second']);
    await house.post(`${chat}/people/${larry!.id}/restore`);
    expect(await shown()).toEqual(['First', 'Second']);
    const kinds = (await server.happenings(larry!.id)).map(({ kind }) => kind);
    expect(kinds).toEqual(['chat-person-hidden', 'chat-person-restored']);
    expect(JSON.stringify((await server.anybody().get(room)).body)).not.toContain(larry!.id);
  });
});

describe('the house', () => {
  test('is renamed with its version, and the change can be taken back', async () => {
    const own = await server.house('owner', 'Old name');
    const { body: before } = await own.get<HouseView>('/api/house');
    const saved = await own.patch<HouseView>('/api/house', before.version, {
      name: 'New name',
      accent: '#112233',
    });
    expect(saved.body).toMatchObject({ name: 'New name', accent: '#112233' });
    expect((await own.patch<Problem>('/api/house', before.version, { name: 'X' })).status).toBe(412);
    expect(
      (await own.patch<Problem>('/api/house', saved.body.version, { zone: 'Moon/Base' })).body.code,
    ).toBe('no-such-zone');
    await own.post('/api/happenings/undo-last', { subjectId: own.houseId });
    expect((await own.get<HouseView>('/api/house')).body.name).toBe('Old name');
  });

  test('is taken along as one file without keys', async () => {
    const own = await server.house();
    const source = await own.source('Chapel desk');
    const { key } = (await own.get<{ key: string }>(`/api/sources/${source.id}/key`)).body;
    const answer = await fetch(`${server.url}/api/house/export`, {
      headers: { authorization: own.authorization },
    });
    const zip = Buffer.from(await answer.arrayBuffer());
    expect([answer.headers.get('content-type'), zip.subarray(0, 2).toString()]).toEqual([
      'application/zip',
      'PK',
    ]);
    const sources = unzip(zip, 'sources.jsonl');
    expect(sources).toContain('Chapel desk');
    expect(sources).not.toContain(key);
    expect(sources).not.toMatch(/sealed|Sha256/);
  });

  test('is deleted with everything in it, for whoever types its name and their password', async () => {
    const own = await server.house('owner', 'Leaving');
    await own.event(600, 660, (await own.source()).id);
    expect((await own.delete<Problem>('/api/house', { name: 'Wrong', password: PASSWORD })).body.code).toBe(
      'house-name-wrong',
    );
    expect((await own.delete<Problem>('/api/house', { name: 'Leaving', password: 'x' })).body.code).toBe(
      'password-wrong',
    );
    expect((await own.delete('/api/house', { name: 'Leaving', password: PASSWORD })).status).toBe(204);
    expect((await own.get('/api/events')).status).toBe(401);
  });
});

describe('public pages', () => {
  test('carry a card for other sites, and their own policy', async () => {
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { title: 'Bells & "Tea" <b>' });
    const page = await server.anybody().get<string>(`/watch/${event.slug}`);
    expect(page.body).toContain(
      '<meta property="og:title" content="Bells &#38; &#34;Tea&#34; &#60;b&#62;" />',
    );
    expect(page.body).toContain('application/json+oembed');
    expect(page.headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
    const embed = await server.anybody().get<string>(`/embed/${event.slug}`);
    expect(embed.headers.get('content-security-policy')).toContain('frame-ancestors *');
    expect(embed.headers.get('x-frame-options')).toBeNull();
    for (const { headers } of [page, embed]) {
      expect(headers.get('content-security-policy')).toContain("script-src 'self'");
      expect(headers.get('x-content-type-options')).toBe('nosniff');
    }
    expect((await server.anybody().get('/watch/nothing-here')).status).toBe(404);
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
    expect((await ask(`url=${link}&format=xml`)).status).toBe(501);
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

test('figures for whoever watches over the installation count requests by route, not by address', async () => {
  const event = await house.event(600, 660);
  await house.get(`/api/events/${event.id}`);
  const { body } = await server.anybody().get<string>('/metrics');
  expect(body).toContain(
    'heliphon_http_request_seconds_count{method="GET",route="/api/events/:id",status="200"}',
  );
  expect(body).not.toContain(event.id);
});

test('before an upgrade the database is only looked at: what it lacks, and what nobody here knows', async () => {
  expect(await checkSchema(server.databaseUrl)).toEqual({ isEmpty: false, pending: [], unknown: [] });
});

/** One entry of a ZIP file as text (APPNOTE 4.3.12: central directory). */
function unzip(zip: Buffer, name: string): string {
  let at = zip.readUInt32LE(zip.lastIndexOf(Buffer.from('PK\x05\x06')) + 16);
  while (zip.subarray(at, at + 4).toString('latin1') === 'PK\x01\x02') {
    const [nameBytes, extraBytes, commentBytes] = [28, 30, 32].map((offset) => zip.readUInt16LE(at + offset));
    const found = zip.subarray(at + 46, at + 46 + nameBytes!).toString() === name;
    if (found) {
      const local = zip.readUInt32LE(at + 42);
      const data = local + 30 + zip.readUInt16LE(local + 26) + zip.readUInt16LE(local + 28);
      return inflateRawSync(zip.subarray(data, data + zip.readUInt32LE(at + 20))).toString();
    }
    at += 46 + nameBytes! + extraBytes! + commentBytes!;
  }
  throw new Error(`No ${name} in the file`);
}
