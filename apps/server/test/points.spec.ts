import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { WebSocket } from 'ws';
import type { SendToken } from '@heliphon/contracts/send-tokens';
import { SourceEntity } from '../src/tables/source.entity.js';
import { SourcesService } from '../src/sources/sources.service.js';
import { Database } from '../src/platform/database.js';
import { type HouseClient, until } from './driver.js';
import { arriving, HILL, NOWHERE, stateOf, TwoNodes } from './two-nodes.js';

let two: TwoNodes;
beforeAll(async () => {
  two = await TwoNodes.start();
});
afterAll(() => two.stop());

describe('an ingest point', () => {
  test('says itself where it stands and how it is reached; what it does not say is on the machine that was asked', async () => {
    const source = (await two.choose(await two.house.source(), 'hill')).body;
    expect(await two.keyOf(source)).toMatchObject({
      point: { nodeId: 'hill', place: 'Hill House' },
      address: 'rtmp://127.0.0.1:1936/in',
      whip: 'https://hill.example/whip',
      second: { point: { nodeId: 'n1', place: 'Quay House' }, address: 'rtmp://quay.example/in' },
    });
  });

  test('where nobody chose, a source sends to the first one', async () => {
    expect((await two.keyOf(await two.house.source())).point?.nodeId).toBe('n1');
  });

  test('a browser gets them all, to find the nearest: first the one chosen for the source', async () => {
    const source = (await two.choose(await two.house.source(), 'hill')).body;
    const { body } = await two.house.post<SendToken>(`/api/sources/${source.id}/lines`);
    expect(body.points.map(({ nodeId, sendUrl, reachUrl }) => [nodeId, sendUrl, reachUrl])).toEqual([
      ['hill', 'wss://hill.example/send/v1', 'https://hill.example/reach'],
      ['n1', 'ws://127.0.0.1:9/send/v1', `${NOWHERE}/reach`],
    ]);
  });

  test('one that is none of ours is refused; a choice can be undone', async () => {
    const source = await two.house.source();
    const refused = await two.choose(source, 'mill');
    expect(refused.status).toBe(422);
    expect(refused.body.fields).toEqual([{ path: 'nodeId', message: 'unknown-point' }]);
    await two.choose(source, 'hill');
    await two.house.post('/api/happenings/undo-last', { subjectId: source.id });
    expect((await two.keyOf(source)).point?.nodeId).toBe('n1');
  });

  test('is shown with what it has to do for this house, and nothing of what others have there', async () => {
    const stranger = await two.server.house();
    const theirs = await stranger.source();
    const own = await two.house.source();
    two.hill.keepReporting({ load: 0.42, disk: 'low', sources: [arriving(own), arriving(theirs)] });
    const shown = (client: HouseClient) =>
      until(async () => (await two.points(client)).find(({ now }) => now?.disk === 'low'), 'its figures');
    expect(await shown(two.house)).toMatchObject({
      nodeId: 'hill',
      place: 'Hill House',
      presence: 'here',
      now: { load: 0.42, sources: 1, programmes: 0, viewers: 0 },
    });
    expect((await shown(stranger)).now).toMatchObject({ load: 0.42, sources: 1 });
    two.hill.keepReporting();
  });

  test('one whose disk is full is offered to nobody, unless it was chosen', async () => {
    two.hill.keepReporting({ disk: 'full' });
    const source = await two.house.source();
    await until(async () => (await two.keyOf(source)).second === null, 'it to be left out');
    expect((await two.keyOf((await two.choose(source, 'hill')).body)).point?.nodeId).toBe('hill');
    two.hill.keepReporting();
  });

  test('pages may load from each of them, and from nowhere else', async () => {
    const { headers } = await two.server.anybody().get('/watch/anything');
    const policy = headers.get('content-security-policy')!;
    expect(policy).toContain(`media-src 'self' blob: ${NOWHERE} https://hill.example;`);
    expect(policy).toContain('wss://hill.example');
  });

  test('nobody outside the house hears of them', async () => {
    expect((await two.server.anybody().get('/api/points')).status).toBe(401);
  });
});

describe('a node that comes by another’s name', () => {
  const dial = (nodeId: string, secret: string): Promise<number> =>
    new Promise((resolve) => {
      const headers = { authorization: `Node ${nodeId}:${secret}` };
      const socket = new WebSocket(`${two.server.url.replace('http', 'ws')}/control/v1`, { headers });
      socket.on('error', () => undefined);
      socket.once('open', () => resolve(101));
      socket.once('unexpected-response', (_request, { statusCode }) => resolve(statusCode!));
    });

  test('is turned away while that one is there, disturbs nobody, and the house is told', async () => {
    expect(await dial('hill', HILL.secret)).toBe(409);
    const [, told] = await two.points();
    expect(told).toMatchObject({
      presence: 'here',
      double: { remoteAddress: expect.stringContaining('127.0.0.1') },
    });
    await stateOf(two.hill, ({ revision }) => revision > 0);
  });

  test('is let in once the first does not answer any more', async () => {
    const frozen = await two.server.dialAsNode(HILL.secret, HILL.nodeId).catch(() => null);
    expect(frozen).toBeNull();
    two.hill.freeze();
    const next = await two.server.dialAsNode(HILL.secret, HILL.nodeId);
    next.keepReporting();
    await until(() => next.desired, 'its desired state');
    two.hill.close();
    two.hill = next;
  });

  test('without the right secret nobody is let in', async () => {
    expect(await dial('hill', 'x'.repeat(40))).toBe(401);
    expect(await dial('mill', HILL.secret)).toBe(401);
  });
});

describe('a box that sends', () => {
  test('is left where it arrives, though another point is chosen for it', async () => {
    const source = (await two.choose(await two.house.source(), 'hill')).body;
    const row = await two.server.app
      .get(Database)
      .installation.findOneByOrFail(SourceEntity, { id: source.id });
    const told = () => two.server.app.get(SourcesService).keyOfSending(row, '127.0.0.1:80').point?.nodeId;
    expect(told()).toBe('hill');
    two.quay.keepReporting({ sources: [arriving(source)] });
    await until(() => told() === 'n1', 'it to be left alone');
    two.quay.keepReporting();
  });
});
