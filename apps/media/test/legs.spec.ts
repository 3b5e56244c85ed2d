import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { WebSocketServer } from 'ws';
import type { DesiredJoin, DesiredProgramme } from '@heliphon/core/control/desired-state';
import { decode, grantFor, NodeDriver, until } from './driver.js';

let first: NodeDriver;
let second: NodeDriver;
let begun: DesiredProgramme;
beforeEach(async () => {
  first = await NodeDriver.start();
  second = await NodeDriver.start({}, first);
  begun = first.onAir();
});
afterEach(async () => {
  await first.close();
  await second.close();
});

/** As the server has it when it takes the programme to another node. */
const takenOver = (leg = 1): DesiredProgramme => ({
  ...begun,
  takenOver: {
    leg,
    lastHeardMs: null,
    life: { state: 'air', doorsAtMs: begun.plan.doorsAtMs, airAtMs: begun.plan.airAtMs },
  },
});
const joinFrom = (node: NodeDriver): DesiredJoin => ({
  programmeId: node.programmeId,
  houseId: node.houseId,
  nodeId: 'first',
  address: `${node.origin}/p/${node.programmeId}/${grantFor(node.programmeId, 'desk')}`,
});
const programmeOf = (node: NodeDriver) => node.node.figures().programmes[0];
const numbersIn = (playlist: string): number[] =>
  [...playlist.matchAll(/^seg-(\d+)\.m4s/gm)].map(([, digits]) => Number(digits));
const secondsIn = (playlist: string): number =>
  [...playlist.matchAll(/#EXTINF:([\d.]+)/g)].reduce((sum, [, seconds]) => sum + Number(seconds), 0);

const end = (node: NodeDriver) =>
  node.desire({
    programmes: [
      { ...node.state.programmes[0]!, command: { commandId: 'end', kind: 'end', atMs: Date.now() } },
    ],
  });
const replayOf = (node: NodeDriver): Promise<string> =>
  until(async () => {
    const answer = await fetch(node.address('replay.m3u8'));
    return answer.ok && answer.text();
  }, 'the replay');

/** On air at the first node until that falls, then at the second. */
async function goOver(): Promise<void> {
  await first.desire({ programmes: [begun] });
  const encoder = first.encode();
  await first.untilSegments(3);
  await encoder.stop();
  await first.restart();
  await second.desire({ programmes: [takenOver()] });
  second.encode();
  await second.untilSegments(2);
}

test('an event goes on at another node: on air as it was, on the same time, with numbers of its own', async () => {
  await goOver();
  const [moved] = await second.told('programme-moved');
  expect(moved).toBeUndefined(); // it was on air before: nothing has happened to it
  expect(programmeOf(second)).toMatchObject({ state: 'air', signal: { present: true } });
  const playlist = await (await fetch(second.address('live.m3u8'))).text();
  expect(playlist).toContain('#EXT-X-MEDIA-SEQUENCE:1000000\n');
  const [, date] = /#EXT-X-PROGRAM-DATE-TIME:(\S+)/.exec(playlist)!;
  const sinceDoorsMs = Date.parse(date!) - begun.plan.doorsAtMs;
  // Its time begins with the doors, not with its coming here.
  expect(sinceDoorsMs).toBeGreaterThan(6000);
  expect(sinceDoorsMs).toBeLessThan(60_000);
});

test('the node that has it no longer shuts it, though on air, and sends its viewers on', async () => {
  await goOver();
  await until(() => programmeOf(first)?.state === 'air', 'the first to go on with what it knows');
  await first.desire({ programmes: [], elsewhere: [first.programmeId] });
  await until(() => first.node.figures().programmes.length === 0, 'it to let go');
  const refused = await fetch(first.address('live.m3u8'));
  expect(refused.status).toBe(403);
  expect(await refused.text()).toContain('goes on at another address');
  expect(await first.told('recording-kept')).toEqual([]);
});

test('a node that comes back asks the server first, and takes up nothing that another has by now', async () => {
  await first.desire({ programmes: [begun] });
  const server = new WebSocketServer({ port: 0, host: '127.0.0.1' });
  await once(server, 'listening');
  const state = { ...first.state, revision: 9, programmes: [], elsewhere: [first.programmeId] };
  server.on('connection', (socket) => socket.send(JSON.stringify({ type: 'desired', state })));
  await first.restart({ serverUrl: `http://127.0.0.1:${(server.address() as AddressInfo).port}` });
  server.close();
  expect(first.node.figures().programmes).toEqual([]);
});

test('once over, what the first had is put in front: the replay is whole, and decodes', async () => {
  await goOver();
  await first.desire({ programmes: [], elsewhere: [first.programmeId] });
  await end(second);
  const partial = await replayOf(second);
  expect(numbersIn(partial)[0]).toBe(1_000_000);

  // Where the other node is away, it is asked again.
  const nowhere = joinFrom(first).address.replace(/:\d+/, ':9');
  await second.desire({ joins: [{ ...joinFrom(first), address: nowhere }] });
  await second.desire({ joins: [joinFrom(first)] });
  await until(async () => (await second.told('recording-joined')).length > 0, 'the rest');

  const whole = await replayOf(second);
  const numbers = numbersIn(whole);
  expect(numbers.slice(0, 3)).toEqual([0, 1, 2]);
  expect(numbers).toContain(1_000_000);
  expect(secondsIn(whole)).toBeGreaterThan(secondsIn(partial) + 5);
  const [before, after] = await second.told('recording-kept');
  expect(after!.durationMs).toBeGreaterThan(before!.durationMs + 5000);
  const decoded = await decode(second.address('replay.m3u8'));
  expect(decoded.words).toBe('');
  expect(Math.abs(decoded.frames / 25 - secondsIn(whole))).toBeLessThan(0.5);

  // It is one recording from now on, also for a node that restarts, and to download.
  await second.restart();
  await second.desire({});
  expect(numbersIn(await replayOf(second))).toEqual(numbers);
  expect((await fetch(second.address('recording.mp4', 'desk'))).status).toBe(200);
});

test('back at the first node it goes on behind what the second has, and takes that in as well', async () => {
  await goOver();
  await first.desire({ programmes: [], elsewhere: [first.programmeId] });
  await until(() => first.node.figures().programmes.length === 0, 'it to let go');
  await second.desire({ programmes: [], elsewhere: [second.programmeId] });
  await first.desire({ programmes: [takenOver(2)], elsewhere: [] });
  first.encode();
  const listed = await until(async () => {
    const numbers = numbersIn(await first.playlist());
    return numbers.length > 0 && numbers;
  }, 'segments');
  expect(listed[0]).toBe(2_000_000);
  await end(first);
  await replayOf(first);
  await first.desire({ joins: [{ ...joinFrom(second), nodeId: 'second' }] });
  await until(async () => (await first.told('recording-joined')).length > 0, 'the middle');
  const numbers = numbersIn(await replayOf(first));
  expect([...new Set(numbers.map((number) => Math.floor(number / 1_000_000)))]).toEqual([0, 1, 2]);
  expect(numbers).toEqual(numbers.toSorted((a, b) => a - b));
  expect((await decode(first.address('replay.m3u8'))).words).toBe('');
});

test('the index is for nodes of the house alone', async () => {
  await first.desire({ programmes: [begun] });
  first.encode();
  await first.untilSegments(1);
  expect((await fetch(first.address('index.jsonl'))).status).toBe(404);
  const text = await (await fetch(first.address('index.jsonl', 'desk'))).text();
  expect(JSON.parse(text.split('\n')[0]!)).toMatchObject({ sequence: 0, initNumber: 0 });
});
