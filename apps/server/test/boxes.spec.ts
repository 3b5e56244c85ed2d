import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { DEVICE_GRANT } from '@heliphon/contracts/boxes.schema';
import type { BoxOrders, BoxView, DeviceAuthorization, PairBox } from '@heliphon/contracts/boxes';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { SourceKey, SourceView } from '@heliphon/contracts/sources';
import type { BoxReport } from '@heliphon/core/pairing/device-grant';
import { type HouseClient, ServerDriver } from './driver.js';

const REPORT: BoxReport = {
  batteryPercent: 80,
  input: 'picture-and-sound',
  temperatureC: 44,
  isSending: false,
  nearestNodeId: null,
};
let server: ServerDriver;
let house: HouseClient;
let clockMs = 0;
beforeAll(async () => {
  server = await ServerDriver.start();
});
beforeEach(async () => {
  house = await server.house('producer');
});
afterAll(() => server.stop());

const wait = async (ms: number): Promise<void> => {
  clockMs += ms;
  await server.setClock(clockMs);
};

/** As a box asks: with forms. */
async function ask<T>(path: string, fields: Record<string, string>): Promise<{ status: number; body: T }> {
  const answer = await fetch(server.url + path, { method: 'POST', body: new URLSearchParams(fields) });
  return { status: answer.status, body: (await answer.json()) as T };
}

const begin = async (): Promise<DeviceAuthorization> =>
  (await ask<DeviceAuthorization>('/api/device/authorize', { client_id: 'Quayside encoder' })).body;
const askToken = (code: DeviceAuthorization) =>
  ask<{ access_token?: string; error?: string }>('/api/device/token', {
    grant_type: DEVICE_GRANT,
    device_code: code.device_code,
  });
const pair = (code: DeviceAuthorization, over: Partial<PairBox> = {}) =>
  house.post<BoxView & Problem>('/api/boxes', {
    userCode: code.user_code,
    name: 'Tower',
    sourceId: null,
    ...over,
  });
const report = async (token: string, over: Partial<BoxReport> = {}) => {
  const answer = await fetch(`${server.url}/api/boxes/report`, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    body: JSON.stringify({ ...REPORT, ...over }),
  });
  return { status: answer.status, body: (await answer.json()) as BoxOrders };
};
const keyOf = async (sourceId: string): Promise<string> =>
  (await house.get<SourceKey>(`/api/sources/${sourceId}/key`)).body.key;

async function paired(): Promise<{ box: BoxView; token: string }> {
  const code = await begin();
  const { body: box } = await pair(code);
  return { box, token: (await askToken(code)).body.access_token! };
}

describe('a box', () => {
  test('shows a code, waits, and gets address and key once somebody has entered it', async () => {
    const code = await begin();
    expect(code).toMatchObject({ expires_in: 600, interval: 5 });
    expect(code.verification_uri_complete).toBe(`${server.url}/sources?pair=${code.user_code}`);
    expect(await askToken(code)).toMatchObject({ status: 400, body: { error: 'authorization_pending' } });
    const { status, body: box } = await pair(code, {
      userCode: code.user_code.toLowerCase().replace('-', ' '),
    });
    expect([status, box.name, box.model]).toEqual([201, 'Tower', 'Quayside encoder']);
    await wait(5000);
    const { body } = await askToken(code);
    expect((await askToken(code)).body.error).toBe('invalid_grant');
    const orders = await report(body.access_token!);
    expect(orders.body).toMatchObject({ name: 'Tower', sourceName: 'Tower' });
    expect(orders.body.connect.key).toBe(await keyOf(box.sourceId));
  });

  test('says how it is, and stands so in the list, without a line in the record', async () => {
    const { box, token } = await paired();
    await report(token, { batteryPercent: 12, isSending: true });
    const { body } = await house.get<Page<BoxView>>('/api/boxes');
    expect(body.items).toMatchObject([{ id: box.id, version: box.version, report: { batteryPercent: 12 } }]);
    expect((await server.happenings(box.id)).map(({ kind }) => kind)).toEqual(['box-paired']);
    expect((await report(token, { input: 'bananas' as never })).status).toBe(422);
  });

  test('that is given another source is told so with its next word', async () => {
    const { box, token } = await paired();
    const other = await house.source('Hall');
    await house.patch(`/api/boxes/${box.id}`, box.version, { sourceId: other.id });
    expect((await report(token)).body).toMatchObject({
      sourceName: 'Hall',
      connect: { key: await keyOf(other.id) },
    });
  });

  test('names the ingest point it found nearest; one that is none of ours is passed over', async () => {
    const { box, token } = await paired();
    const pointOf = async (): Promise<string | null> => {
      const { body } = await house.get<Page<SourceView>>('/api/sources');
      return body.items.find(({ id }) => id === box.sourceId)!.nodeId;
    };
    const { body } = await report(token);
    expect(body.points.map(({ nodeId, reachUrl }) => [nodeId, reachUrl])).toEqual([
      ['n1', 'http://127.0.0.1:4610/reach'],
    ]);
    await report(token, { nearestNodeId: 'nowhere' });
    expect(await pointOf()).toBeNull();
    await report(token, { nearestNodeId: 'n1' });
    expect(await pointOf()).toBe('n1');
  });

  test('that is let go is cut off: its token opens nothing, and the key it had is no more', async () => {
    const { box, token } = await paired();
    const before = await keyOf(box.sourceId);
    expect((await house.delete(`/api/boxes/${box.id}`)).status).toBe(204);
    expect((await report(token)).status).toBe(401);
    expect(await keyOf(box.sourceId)).not.toBe(before);
  });

  test('keeps its source from being deleted', async () => {
    const { box } = await paired();
    const { status, body } = await house.delete<Problem>(`/api/sources/${box.sourceId}`);
    expect([status, body.code]).toEqual([409, 'source-of-box']);
  });

  test('that asks too often is slowed down, and one whose code has run out begins again', async () => {
    const code = await begin();
    await askToken(code);
    expect((await askToken(code)).body.error).toBe('slow_down');
    await wait(600_000);
    expect((await askToken(code)).body.error).toBe('expired_token');
    expect((await pair(code)).body.code).toBe('pairing-code-wrong');
    expect(
      await ask('/api/device/token', { grant_type: 'password', device_code: code.device_code }),
    ).toMatchObject({
      status: 400,
      body: { error: 'unsupported_grant_type' },
    });
  });
});

describe('anyone who guesses codes', () => {
  test('is stopped after a few, no matter who in the house it is, and leaves no source behind', async () => {
    const colleague = await server.member(house.houseId, 'producer');
    const guess = (who: HouseClient) =>
      who.post<Problem>('/api/boxes', { userCode: 'BCDF-GHJK', name: 'Guess', sourceId: null });
    const answers = [];
    for (let tries = 0; tries < 6; tries += 1) answers.push(await guess(tries % 2 ? house : colleague));
    expect(answers.slice(0, 5).map(({ body }) => body.code)).toEqual(Array(5).fill('pairing-code-wrong'));
    expect([answers[5]!.status, answers[5]!.body.code]).toEqual([429, 'too-many-tries']);
    expect(answers[5]!.headers.get('retry-after')).toBeTruthy();
    expect((await house.get<Page<SourceView>>('/api/sources')).body.items).toEqual([]);
  });

  test('cannot take a box that another house has paired', async () => {
    const code = await begin();
    await pair(code);
    const other = await server.house('producer');
    const again = await other.post<Problem>('/api/boxes', {
      userCode: code.user_code,
      name: 'Mine',
      sourceId: null,
    });
    expect(again.body.code).toBe('pairing-code-wrong');
  });
});

describe('SRT', () => {
  const withSrt = async (source: SourceView) =>
    house.patch<SourceView & Problem>(`/api/sources/${source.id}`, source.version, { srt: {} });

  test('gives a source a port and a passphrase of its own, which are renewed with its key', async () => {
    const [one, two] = [await house.source('One'), await house.source('Two')];
    for (const source of [one, two]) expect((await withSrt(source)).body.srt).toEqual({ latencyMs: 200 });
    const keys = await Promise.all(
      [one, two].map(async ({ id }) => (await house.get<SourceKey>(`/api/sources/${id}/key`)).body.srt!),
    );
    expect(new Set(keys.map(({ address }) => address)).size).toBe(2);
    expect(keys[0]!.address).toMatch(/^srt:\/\/127\.0\.0\.1:46[45]\d$/);
    await house.post(`/api/sources/${one.id}/renew-key`);
    const renewed = (await house.get<SourceKey>(`/api/sources/${one.id}/key`)).body.srt!;
    expect(renewed.address).toBe(keys[0]!.address);
    expect(renewed.passphrase).not.toBe(keys[0]!.passphrase);
  });

  test('says so when every port is taken, and gives one back that is closed', async () => {
    const sources: SourceView[] = [];
    for (let count = 0; ; count += 1) {
      const answer = await withSrt(await house.source(`Line ${count}`));
      if (answer.status === 409) {
        expect(answer.body.code).toBe('srt-ports-taken');
        break;
      }
      sources.push(answer.body);
    }
    const last = sources.at(-1)!;
    await house.patch(`/api/sources/${last.id}`, last.version, { srt: null });
    expect((await withSrt(await house.source('Late'))).status).toBe(200);
  });
});
