import { createHmac } from 'node:crypto';
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { type Fault, NOTICED_NOTHING } from '@heliphon/core/faults/fault';
import type { EventView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import type {
  WebhookBody,
  WebhookDeliveryView,
  WebhookSecret,
  WebhookView,
} from '@heliphon/contracts/webhooks';
import { postOutside } from '../src/webhooks/post-outside.js';
import { type HouseClient, type NodeClient, ServerDriver, until } from './driver.js';

interface Taken {
  readonly headers: IncomingHttpHeaders;
  readonly text: string;
  readonly body: WebhookBody;
}

let server: ServerDriver;
let node: NodeClient;
let house: HouseClient;
let receiver: Server;
let address: string;
let taken: Taken[] = [];
/** What it answers next, each once; 204 when nothing is left. */
let answers: number[] = [];

beforeAll(async () => {
  receiver = createServer((request, response) => {
    let text = '';
    request.on('data', (chunk) => (text += String(chunk)));
    request.on('end', () => {
      const status = answers.shift() ?? 204;
      if (status < 300) taken.push({ headers: request.headers, text, body: JSON.parse(text) as WebhookBody });
      response.writeHead(status, status === 302 ? { location: 'http://127.0.0.1:1/inwards' } : {}).end();
    });
  });
  await new Promise<void>((resolve) => receiver.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/hook`;
  server = await ServerDriver.start();
  node = await server.dialAsNode();
});
afterAll(async () => {
  node.close();
  await server.stop();
  receiver.close();
});
beforeEach(async () => {
  taken = [];
  answers = [];
  house = await server.house('owner');
});

const put = (at = address) => house.ask<WebhookView>('PUT', '/api/house/webhook', { address: at });
const renew = async (): Promise<string> =>
  (await house.post<WebhookSecret>('/api/house/webhook/secret', {})).body.secret;
const deliveries = async () =>
  (await house.get<Page<WebhookDeliveryView>>('/api/house/webhook/deliveries')).body.items;
const kinds = (): string[] => taken.map(({ body }) => body.kind);

describe('a webhook', () => {
  test('is told what happens from then on, signed so that it can tell it is us', async () => {
    await house.event(60, 120);
    expect((await put()).body).toEqual({ address });
    const secret = await renew();
    const source = await house.source('Pier camera');
    const event = await house.event(60, 120, source.id);
    const air = (await house.move<EventView>(event, 'go-on-air')).body;
    await until(() => kinds().includes('on-air'), 'going on air');
    expect(kinds()).toEqual(['planned', 'on-air']);
    expect(taken[1]!.body).toMatchObject({
      version: 1,
      event: { id: air.id, title: air.title, page: expect.stringContaining(`/watch/${air.slug}`) },
    });
    const { headers, text } = taken[1]!;
    const key = Buffer.from(secret.replace('whsec_', ''), 'base64');
    const signature = createHmac('sha256', key)
      .update(`${String(headers['webhook-id'])}.${String(headers['webhook-timestamp'])}.${text}`)
      .digest('base64');
    expect(headers['webhook-signature']).toBe(`v1,${signature}`);

    const fault: Fault = {
      kind: 'encoder-gone',
      subjectId: source.id,
      detail: { ending: 'connection-broke' },
      fromMs: Date.now(),
      toMs: null,
      noticed: NOTICED_NOTHING,
      viewerMs: 0,
    };
    const { programmeId } = air;
    node.observe(1, { kind: 'fault', programmeId, fault, atMs: Date.now() });
    const over = { ...fault, toMs: fault.fromMs + 9000, viewerMs: 90_000 };
    node.observe(2, { kind: 'fault', programmeId, fault: over, atMs: Date.now() });
    await until(() => kinds().includes('fault-over'), 'its end');
    expect(taken.at(-1)!.body.fault).toEqual({
      kind: 'encoder-gone',
      about: source.id,
      from: new Date(fault.fromMs).toISOString(),
      to: new Date(over.toMs).toISOString(),
      sentence: 'Pier camera lost its connection.',
      help: 'Check its internet line. It comes back by itself once the line does.',
      viewerMinutes: 1.5,
    });
    expect(kinds()).toEqual(['planned', 'on-air', 'fault-began', 'fault-over']);
  });

  test('that does not take it is tried again after a while, and shown with what it answered', async () => {
    await put();
    answers = [503, 302];
    await house.post('/api/house/webhook/try', {});
    const failed = await until(
      async () => (await deliveries()).find(({ attempts }) => attempts === 1),
      'a try',
    );
    await until(async () => (await deliveries())[0]!.answer === 'status-503', 'the answer');
    expect(failed).toMatchObject({ kind: 'try', deliveredAtMs: null });
    await server.setClock(15_000);
    await until(async () => (await deliveries())[0]!.answer === 'redirected', 'the second');
    await server.setClock(120_000);
    await until(() => taken.length === 1, 'the third');
    await until(async () => (await deliveries())[0]!.deliveredAtMs !== null, 'it being known');
    expect(await deliveries()).toMatchObject([{ attempts: 3, answer: 'delivered', nextTryAtMs: null }]);
    await server.setClock(0);
  });

  test('keeps its secret when its address changes, and can be taken away', async () => {
    await put('http://127.0.0.1:1/');
    const secret = await renew();
    await put();
    await house.post('/api/house/webhook/try', {});
    const { headers, text } = await until(() => taken[0], 'the try');
    const signature = createHmac('sha256', Buffer.from(secret.slice(6), 'base64'))
      .update(`${String(headers['webhook-id'])}.${String(headers['webhook-timestamp'])}.${text}`)
      .digest('base64');
    expect(headers['webhook-signature']).toBe(`v1,${signature}`);
    expect((await house.ask('DELETE', '/api/house/webhook')).status).toBe(204);
    expect((await house.get('/api/house/webhook')).status).toBe(404);
    expect(await deliveries()).toEqual([]);
  });

  test.each(['ftp://example.org/', 'hook', `https://example.org/${'x'.repeat(600)}`])(
    'cannot be %s',
    async (at) => {
      expect((await put(at)).status).toBe(422);
    },
  );

  test('is an owner’s matter', async () => {
    const producer = await server.member(house.houseId, 'producer');
    expect((await producer.get('/api/house/webhook')).status).toBe(403);
    expect((await producer.ask('PUT', '/api/house/webhook', { address })).status).toBe(403);
  });
});

describe('an inner address', () => {
  test('is never posted to, whether it is written as a number, in brackets or as a name', async () => {
    const port = (receiver.address() as AddressInfo).port;
    for (const host of ['127.0.0.1', '[::1]', 'localhost', '2130706433'])
      expect(await postOutside(`http://${host}:${port}/`, '{}', {}, false)).toBe('inner-address');
    expect(await postOutside('http://nowhere.invalid/', '{}', {}, false)).toBe('not-found');
    expect(taken).toEqual([]);
  });

  test('that closes at once is unreachable', async () => {
    expect(await postOutside('http://127.0.0.1:1/', '{}', {}, true)).toBe('unreachable');
  });
});
