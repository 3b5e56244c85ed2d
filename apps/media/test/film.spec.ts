import { execFile } from 'node:child_process';
import { copyFile, mkdir, readFile, stat, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DesiredFilm } from '@heliphon/core/control/film';
import { NodeDriver, until } from './driver.js';

const run = promisify(execFile);
const FILM_MS = 8000;
let driver: NodeDriver;
let film: DesiredFilm;
let made: string;
beforeEach(async () => {
  driver = await NodeDriver.start();
  film = { fileId: randomUUID(), sizeBytes: 0, durationMs: FILM_MS, standsAlone: false };
  made = join(driver.folder, 'film.mp4');
  // Smaller than the encoder's picture, so that one can tell them apart; with pictures out of order, as films have.
  const picture = `-f lavfi -i testsrc2=size=160x90:rate=25:duration=${FILM_MS / 1000}`;
  const sound = `-f lavfi -i sine=frequency=880:sample_rate=48000:duration=${FILM_MS / 1000}`;
  const code =
    '-c:v libx264 -preset ultrafast -bf 2 -g 50 -pix_fmt yuv420p -c:a aac -ac 2 -movflags +faststart';
  await run('ffmpeg', ['-v', 'error', '-y', ...`${picture} ${sound} ${code}`.split(' '), made]);
  film = { ...film, sizeBytes: (await stat(made)).size };
});
afterEach(() => driver.close());

/** Lays the film where a node that fetched it would have it. */
async function bring(): Promise<void> {
  const folder = join(driver.folder, 'node', 'films');
  await mkdir(folder, { recursive: true });
  await copyFile(made, join(folder, `${film.fileId}.mp4`));
  await driver.restart();
  await driver.desire({});
}
const programme = () => driver.node.figures().programmes[0]!;
/** Of the picture that each run of the programme begins with: `160×90`. */
async function sizes(): Promise<string[]> {
  const text = await driver.playlist();
  const inits = [...text.matchAll(/EXT-X-MAP:URI="([^"]+)"/g)].map(([, name]) => name!);
  return Promise.all(
    inits.map(async (name) => {
      const path = join(driver.folder, `${name}`);
      const answer = await fetch(driver.address(name, 'desk'));
      await writeFile(path, Buffer.from(await answer.arrayBuffer()));
      const wish = '-v error -show_entries stream=width,height -select_streams v -of csv=p=0'.split(' ');
      return (await run('ffprobe', [...wish, path])).stdout.trim().replace(',', '×');
    }),
  );
}

test('a programme that is a film begins with it, and ends with it', async () => {
  await bring();
  const alone = { ...film, standsAlone: true };
  await driver.desire({ programmes: [driver.onAir({ film: alone, sourceId: null })] });
  await until(() => (programme().filmLeftMs ?? 0) > 0, 'the film');
  await until(() => programme().state === 'kept', 'the end');
  expect(programme().keptMs).toBeGreaterThan(FILM_MS - 500);
  expect(programme().keptMs).toBeLessThan(FILM_MS + 500);
});

test('a programme begins with its film; the source waits, and comes in as it ends', async () => {
  await bring();
  driver.encode();
  await until(() => driver.report?.video, 'the encoder');
  await driver.desire({ programmes: [driver.onAir({ film })] });
  await until(() => (programme().filmLeftMs ?? 0) > 0, 'the film');
  await driver.untilSegments(2);
  expect(await sizes()).toEqual(['160×90']);
  expect(programme().signal.present).toBe(true);
  await until(() => programme().filmLeftMs === null, 'the end of the film');
  await until(async () => (await sizes()).length === 2, 'the source');
  expect(await sizes()).toEqual(['160×90', '320×180']);
  const told = await driver.told('viewers-have');
  const had = told.slice(told.findIndex(({ have }) => have.kind === 'film'));
  expect(had.map(({ have }) => have.kind)).toEqual(['film', 'picture']);
  // One that begins late, as on a slow machine, ends when it would have ended, and not later.
  const shownSeconds = (had[1]!.atMs - had[0]!.atMs) / 1000;

  // A whole film, one cut, and then the source: it can be played from its beginning.
  const command = { commandId: 'end', kind: 'end', atMs: Date.now() } as const;
  await driver.desire({ programmes: [{ ...driver.state.programmes[0]!, command }] });
  const replay = await until(async () => {
    const answer = await fetch(driver.address('replay.m3u8'));
    return answer.ok && (await answer.text());
  }, 'the replay');
  const lengths = replay
    .split('#EXT-X-DISCONTINUITY')
    .map((part) =>
      [...part.matchAll(/#EXTINF:([\d.]+)/g)].reduce((sum, [, seconds]) => sum + Number(seconds), 0),
    );
  expect(lengths[0]).toBeGreaterThan(shownSeconds - 1);
  expect(lengths[0]).toBeLessThan(FILM_MS / 1000 + 0.5);
});

test('a film that was playing at another node goes on here where it would be by now', async () => {
  await bring();
  const nowMs = Date.now();
  const life = { state: 'air', doorsAtMs: nowMs - 4000, airAtMs: nowMs - 3000 } as const;
  await driver.desire({
    programmes: [driver.onAir({ film, takenOver: { leg: 1, life, lastHeardMs: null } })],
  });
  const left = await until(() => programme().filmLeftMs, 'the film');
  expect(left).toBeGreaterThan(FILM_MS - 6000);
  expect(left).toBeLessThan(FILM_MS - 3000);
});

const SLATE = { awayAfterMs: 1500, stillIds: { coming: 'c'.repeat(64), back: 'b'.repeat(64) }, sound: null };
test.each([
  ['the source', null],
  ['a slate', SLATE],
])('what %s showed before air is nothing for viewers', async (_, slate) => {
  await bring();
  if (!slate) driver.encode();
  const nowMs = Date.now();
  const plan = { ...driver.onAir().plan, doorsAtMs: nowMs - 1000, airAtMs: nowMs + 6000 };
  await driver.desire({ programmes: [driver.onAir({ plan, film, slate })] });
  await driver.untilSegments(1);
  await until(() => programme().filmLeftMs !== null, 'the film');
  const shown = await until(async () => {
    const answer = await fetch(driver.address('live.m3u8'));
    const text = answer.ok ? await answer.text() : '';
    return text.includes('#EXTINF') && text;
  }, 'the public’s picture');
  expect(shown.match(/EXT-X-MAP/g)).toHaveLength(1);
  const first = /seg-(\d+)\.m4s/.exec(shown)![1]!;
  expect((await fetch(driver.address(`seg-${Number(first) - 1}.m4s`))).status).toBe(403);
});

test('passed over by the desk it stops, and the source comes at once', async () => {
  await bring();
  driver.encode();
  await until(() => driver.report?.video, 'the encoder');
  await driver.desire({ programmes: [driver.onAir({ film })] });
  await until(() => (programme().filmLeftMs ?? FILM_MS) < FILM_MS - 1500, 'the film');
  await driver.desire({ programmes: [{ ...driver.state.programmes[0]!, film: null }] });
  await until(async () => (await sizes()).includes('320×180'), 'the source');
  expect(programme().filmLeftMs).toBeNull();
});

test('without a source it plays to its end; then the picture is away, and the programme goes on', async () => {
  await bring();
  await driver.desire({ programmes: [driver.onAir({ film })] });
  await until(() => programme().signal.present, 'the film');
  await until(() => !programme().signal.present, 'its end');
  expect(programme()).toMatchObject({ state: 'air', filmLeftMs: null });
});

test('when the node falls and comes back, the film goes on where it would be, and is not begun again', async () => {
  await bring();
  await driver.desire({ programmes: [driver.onAir({ film })] });
  await until(() => (programme().filmLeftMs ?? FILM_MS) < FILM_MS - 2000, 'two seconds of the film');
  await driver.restart();
  const leftMs = await until(() => programme()?.filmLeftMs, 'the film to go on');
  expect(leftMs).toBeLessThan(FILM_MS - 2000);
  await until(() => programme().filmLeftMs === null, 'its end');
  await driver.restart();
  await driver.desire({});
  await until(() => programme() !== undefined, 'the programme');
  expect(programme().filmLeftMs).toBeNull();
});

test('a film that is not there is left out: the programme begins with its source', async () => {
  await driver.desire({});
  driver.encode();
  await driver.desire({ programmes: [driver.onAir({ film })] });
  await until(async () => (await sizes()).includes('320×180'), 'the source');
  expect(programme().filmLeftMs).toBeNull();
});

test('films are fetched with the node’s own secret, tried for again, and let go when nobody wants them', async () => {
  let tries = 0;
  const shown: (string | undefined)[] = [];
  const bytes = await readFile(made);
  const server: Server = createServer((request, response) => {
    if (!request.url?.startsWith('/control/v1/films/')) return void response.writeHead(404).end();
    tries += 1;
    shown.push(request.headers.authorization);
    // Cut off in the middle at first.
    if (tries === 1) return void response.writeHead(200).end(bytes.subarray(0, 1000));
    response.writeHead(200).end(bytes);
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  try {
    const { port } = server.address() as AddressInfo;
    await driver.restart({ serverUrl: `http://127.0.0.1:${port}` });
    const plan = {
      ...driver.onAir().plan,
      doorsAtMs: Date.now() + 3_600_000,
      airAtMs: Date.now() + 3_700_000,
    };
    await driver.desire({ programmes: [driver.onAir({ plan, film })] });
    await until(() => driver.node.figures().films.includes(film.fileId), 'the film');
    expect([tries, new Set(shown)]).toEqual([2, new Set([`Node test:${'x'.repeat(40)}`])]);
    await driver.desire({ programmes: [] });
    await until(() => driver.node.figures().films.length === 0, 'it to be let go');
  } finally {
    server.close();
    server.closeAllConnections();
  }
});
