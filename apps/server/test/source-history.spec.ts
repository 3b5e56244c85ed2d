import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Page } from '@heliphon/contracts/problem';
import type { SourceHappening, SourceView } from '@heliphon/contracts/sources';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

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
    node.observe(9002, { kind: 'source-went', sourceId: source.id, reason: 'encoder-stopped', atMs: 2 });
    await until(() => node.storedSeq >= 9002, 'both to be stored');
    const { body } = await house.get<Page<SourceHappening>>(`/api/sources/${source.id}/history`);
    expect(body.items).toMatchObject([
      { kind: 'source-went', reason: 'encoder-stopped' },
      { kind: 'source-came', protocol: 'rtmps', remoteAddress: '10.1.1.1' },
    ]);
    const event = await house.event(600, 660, source.id);
    const sources = await house.get<Page<SourceView>>('/api/sources');
    expect(sources.body.items[0]).toMatchObject({
      lastSeenAtMs: 2,
      version: source.version,
      events: [{ id: event.id }],
    });
    node.close();
  });
});
