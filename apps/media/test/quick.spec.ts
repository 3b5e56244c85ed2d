import { once } from 'node:events';
import { spawn } from 'node:child_process';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { WebSocket } from 'ws';
import type { QuickRun } from '@heliphon/contracts/quick';
import type { GrantClass } from '@heliphon/core/access/grant';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
const sockets: WebSocket[] = [];
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(async () => {
  for (const socket of sockets.splice(0)) socket.terminate();
  await driver.close();
});

/** A desk's line, and what has come down it. */
function dial(grantClass: GrantClass = 'desk', address = driver.address('quick', grantClass)) {
  const socket = new WebSocket(address.replace(/^http/, 'ws'));
  sockets.push(socket);
  const [runs, pieces]: [QuickRun[], Buffer[]] = [[], []];
  socket.on('message', (data: Buffer, isBinary) => {
    if (isBinary) pieces.push(data);
    else runs.push(JSON.parse(String(data)) as QuickRun);
  });
  return { socket, runs, pieces };
}

const statusOf = async ({ socket }: ReturnType<typeof dial>): Promise<number | undefined> => {
  socket.on('error', () => undefined);
  const [, response] = (await once(socket, 'unexpected-response')) as [unknown, { statusCode: number }];
  return response.statusCode;
};

/** How many pictures ffmpeg makes of what came, and what it complains of. */
async function decode(bytes: Buffer): Promise<{ frames: number; words: string }> {
  const child = spawn('ffmpeg', ['-v', 'info', '-i', '-', '-map', '0', '-f', 'null', '-']);
  let words = '';
  child.stderr.on('data', (chunk: Buffer) => (words += String(chunk)));
  child.stdin.end(bytes);
  await once(child, 'close');
  const frames = Number([...words.matchAll(/frame=\s*(\d+)/g)].at(-1)?.[1] ?? 0);
  return {
    frames,
    words: words
      .split('\n')
      .filter((line) => /error|invalid/i.test(line))
      .join('\n'),
  };
}

test('a desk gets each picture as it comes, whole and decodable, from the next keyframe on', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  driver.encode({ bFrames: 2 });
  await driver.untilSegments(1);
  const desk = dial();
  await until(() => desk.pieces.length > 60, 'sixty pictures');
  expect(desk.runs).toHaveLength(1);
  expect(desk.runs[0]!.codecs).toMatch(/^avc1\.[0-9a-f]{6},mp4a\.40\.2$/i);
  expect(desk.runs[0]!.startsAtUtcMs).toBe(driver.state.programmes[0]!.plan.doorsAtMs);
  const [, ...pictures] = [...desk.pieces];
  const { frames, words } = await decode(Buffer.concat([desk.pieces[0]!, ...pictures]));
  expect(words).toBe('');
  expect(frames).toBeGreaterThanOrEqual(pictures.length - 2);
});

test('the slate and the picture behind it come down the same line, each with its header', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE })] });
  const encoder = driver.encode();
  await driver.untilSegments(2);
  const desk = dial();
  await until(() => desk.pieces.length > 10, 'pictures');
  await encoder.stop();
  await until(() => desk.runs.length === 2, 'the slate');
  driver.encode();
  await until(() => desk.runs.length === 3, 'the picture to be back');
  expect(desk.socket.readyState).toBe(WebSocket.OPEN);
});

const SLATE = { awayAfterMs: 500, stillIds: { coming: 'a'.repeat(64), back: 'b'.repeat(64) }, sound: null };

test('viewers get none, nor does anybody by a forged grant or for an event that is not here', async () => {
  expect(await statusOf(dial())).toBe(403); // not running
  await driver.desire({ programmes: [driver.onAir()] });
  expect(await statusOf(dial('public'))).toBe(403);
  const forged = driver.address('quick', 'desk').replace(/.(?=\/quick$)/, '_');
  expect(await statusOf(dial('desk', forged))).toBe(403);
});

/** A desk that watches a programme on air. */
async function watchAtTheDesk(): Promise<ReturnType<typeof dial>> {
  await driver.desire({ programmes: [driver.onAir()] });
  driver.encode();
  await driver.untilSegments(1);
  const desk = dial();
  await until(() => desk.pieces.length > 0, 'a picture');
  return desk;
}

test('it ends here when the event goes on at another node', async () => {
  const { socket } = await watchAtTheDesk();
  const ended = once(socket, 'close');
  await driver.desire({ programmes: [], elsewhere: [driver.programmeId] });
  await ended;
});

test('it ends with the event', async () => {
  const { socket } = await watchAtTheDesk();
  const ended = once(socket, 'close');
  const [programme] = driver.state.programmes;
  await driver.desire({
    programmes: [{ ...programme!, command: { commandId: 'end', kind: 'end', atMs: Date.now() } }],
  });
  await ended;
});
