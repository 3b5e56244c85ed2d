import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { connect } from 'node:net';
import { promisify } from 'node:util';
import { gunzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { GrantClass } from '@heliphon/core/access/grant';
import { type GrantTurns, NO_TURNS, TURN_GRACE_MS } from '@heliphon/core/access/guarded-grant';
import { grantFor, hintedPart, NodeDriver, until } from './driver.js';

const run = promisify(execFile);

let driver: NodeDriver;
beforeAll(async () => {
  driver = await NodeDriver.start();
  await driver.desire({ programmes: [driver.onAir()] });
  driver.encode();
  await until(
    async () => (await (await fetch(driver.address('live.m3u8'))).text()).includes('seg-1.m4s'),
    'segments',
  );
});
afterAll(() => driver.close());

const ask = (file: string, init: RequestInit = {}) => fetch(driver.address(file), init);

describe('over plain HTTP', () => {
  test('playlists say what they are, may be read from any site, and are kept for a second only', async () => {
    const { headers } = await ask('live.m3u8');
    expect(headers.get('content-type')).toBe('application/vnd.apple.mpegurl');
    expect(headers.get('access-control-allow-origin')).toBe('*');
    expect(headers.get('cache-control')).toBe('public, max-age=1');
  });

  test('media never changes, so that any cache may keep it', async () => {
    for (const file of ['init-0.mp4', 'seg-0.m4s']) {
      const { status, headers } = await ask(file);
      expect([status, headers.get('content-type')]).toEqual([200, 'video/mp4']);
      expect(headers.get('cache-control')).toContain('immutable');
    }
  });

  test('a segment is its parts, one after another', async () => {
    const text = await (await ask('live.m3u8')).text();
    const before = text.slice(0, text.indexOf('seg-1.m4s'));
    const names = [...before.slice(before.indexOf('seg-0.m4s')).matchAll(/URI="(part-\d+\.m4s)"/g)].map(
      (match) => match[1]!,
    );
    expect(names.length).toBeGreaterThan(4);
    const parts = await Promise.all(
      names.map(async (name) => Buffer.from(await (await ask(name)).arrayBuffer())),
    );
    const whole = Buffer.from(await (await ask('seg-1.m4s')).arrayBuffer());
    expect(Buffer.concat(parts).equals(whole)).toBe(true);
  });

  test('a player that stays with its first header gets segments that play by themselves; others do not', async () => {
    const named = async (userAgent: string) => {
      const answer = await ask('live.m3u8', { headers: { 'User-Agent': userAgent } });
      return { cache: answer.headers.get('cache-control'), text: await answer.text() };
    };
    const forVlc = await named('VLC/3.0.24 LibVLC/3.0.24');
    const [first] = /seg-\d+\.m4s\?init=0/.exec(forVlc.text)!;
    expect(forVlc.cache).toBe('no-store');
    expect((await named('VLC/4.0.0 LibVLC/4.0.0')).text).not.toContain('?init');
    const alone = await run('ffmpeg', ['-v', 'error', '-i', driver.address(first), '-f', 'null', '-']);
    expect(alone.stderr).toBe('');
    for (const nowhere of ['9', 'x', '0/../0'])
      expect((await ask(`seg-0.m4s?init=${nowhere}`)).status).toBe(404);
  });

  test('who can unzip gets the playlist zipped', async () => {
    const { hostname, port, pathname } = new URL(driver.address('live.m3u8'));
    const { request } = await import('node:http');
    const body = await new Promise<Buffer>((resolve, reject) => {
      const asked = request(
        { hostname, port, path: pathname, headers: { 'accept-encoding': 'gzip' } },
        (response) => {
          expect(response.headers['content-encoding']).toBe('gzip');
          const chunks: Buffer[] = [];
          response.on('data', (chunk: Buffer) => chunks.push(chunk));
          response.on('end', () => resolve(Buffer.concat(chunks)));
        },
      );
      asked.on('error', reject).end();
    });
    expect(gunzipSync(body).toString()).toContain('#EXTM3U');
  });

  test('HEAD tells the length without the bytes', async () => {
    const head = await ask('seg-0.m4s', { method: 'HEAD' });
    const whole = await (await ask('seg-0.m4s')).arrayBuffer();
    expect(Number(head.headers.get('content-length'))).toBe(whole.byteLength);
    expect((await head.arrayBuffer()).byteLength).toBe(0);
  });

  test.each([
    ['part-999999.m4s', 404],
    ['seg-999999.m4s', 404],
    ['init-99.mp4', 404],
    ['secret.txt', 404],
    ['replay.m3u8', 403],
  ])('%s is answered with %d, and no cache keeps that', async (file, status) => {
    const answer = await ask(file);
    expect(answer.status).toBe(status);
    expect(answer.headers.get('cache-control')).toBe('no-store');
  });

  test('nothing can be written, and other paths lead nowhere', async () => {
    expect((await ask('live.m3u8', { method: 'DELETE' })).status).toBe(405);
    expect((await fetch(`${driver.origin}/../../etc/passwd`)).status).toBe(404);
    expect((await fetch(`${driver.origin}/p/x/y/z`)).status).toBe(404);
    expect(await (await fetch(`${driver.origin}/health`)).text()).toBe('ok');
    expect(await (await fetch(`${driver.origin}/reach`)).text()).toBe('test');
    expect((await fetch(driver.address('live.m3u8'), { method: 'OPTIONS' })).status).toBe(204);
  });

  test('a grant for a picture opens no programme, and the other way round', async () => {
    const picture = grantFor(driver.sourceId, 'source');
    const programme = grantFor(driver.programmeId, 'public');
    expect((await fetch(`${driver.origin}/p/${driver.programmeId}/${picture}/live.m3u8`)).status).toBe(403);
    expect((await fetch(`${driver.origin}/s/${driver.sourceId}/${programme}/picture.jpg`)).status).toBe(403);
  });

  test('a hundred players who wait for one part get it together', async () => {
    const next = hintedPart(await (await ask('live.m3u8')).text());
    const answers = await Promise.all(Array.from({ length: 100 }, () => ask(`part-${next}.m4s`)));
    expect(new Set(answers.map((answer) => answer.status))).toEqual(new Set([200]));
    const sizes = await Promise.all(answers.map(async (answer) => (await answer.arrayBuffer()).byteLength));
    expect(new Set(sizes).size).toBe(1);
  });
});

describe('the sound alone', () => {
  test('is a selection of its own that any player reads', async () => {
    const forms = await (await ask('main.m3u8')).text();
    expect(forms).toMatch(
      /CODECS="avc1\.[0-9a-f]+,mp4a\.40\.2",RESOLUTION=\d+x\d+,FRAME-RATE=25\.000\nlive\.m3u8\n/,
    );
    expect(forms).toMatch(/CODECS="mp4a\.40\.2"\nsound\/live\.m3u8\n/);
    const { stdout } = await run('ffprobe', [
      ...'-v error -show_entries stream=codec_type -of csv=p=0 -live_start_index 0'.split(' '),
      driver.address('sound/live.m3u8'),
    ]);
    expect(new Set(stdout.trim().split(/\s+/))).toEqual(new Set(['audio']));
  });

  test('takes a small part of the whole, from memory as from disk', async () => {
    const sizeOf = async (file: string): Promise<number> =>
      (await (await ask(file)).arrayBuffer()).byteLength;
    expect(await sizeOf('sound/seg-1.m4s')).toBeLessThan((await sizeOf('seg-1.m4s')) / 4);
    expect((await ask('sound/init-0.mp4')).status).toBe(200);
    expect((await ask('sound/init-99.mp4')).status).toBe(404);
    expect((await ask('sound/main.m3u8')).status).toBe(404);
  });
});

describe('one connection for everything', () => {
  /** Writes to a bare connection and reads until so many answers are whole, or it is closed. */
  async function talk(pieces: readonly string[], answers: number): Promise<string[]> {
    const { hostname, port } = new URL(driver.origin);
    const socket = connect(Number(port), hostname);
    let text = '';
    const heads = (): string[] => text.match(/HTTP\/1\.1 \d{3}/g) ?? [];
    const done = new Promise<void>((resolve) => {
      socket.on('data', (chunk: Buffer) => {
        text += chunk.toString('latin1');
        if (heads().length >= answers) resolve();
      });
      socket.on('close', () => resolve());
    });
    for (const piece of pieces) await new Promise((resolve) => socket.write(piece, resolve));
    await done;
    socket.destroy();
    return heads().map((head) => head.slice(9));
  }
  const request = (line: string, ...headers: string[]): string =>
    [`${line} HTTP/1.1`, 'Host: a', ...headers, '', ''].join('\r\n');
  const path = (file: string): string => new URL(driver.address(file)).pathname;

  test('requests that come together are answered one after another', async () => {
    const both = request(`GET ${path('init-0.mp4')}`) + request(`GET ${path('nothing.mp4')}`);
    expect(await talk([both], 2)).toEqual(['200', '404']);
  });

  test('a request that comes while another is held waits for it', async () => {
    const next = hintedPart(await (await ask('live.m3u8')).text());
    const held = request(`GET ${path(`part-${next}.m4s`)}`);
    expect(await talk([held, request(`HEAD ${path('init-0.mp4')}`)], 2)).toEqual(['200', '200']);
  });

  test('whatever is not plain is taken over by the whole server, on the same connection', async () => {
    const plain = request(`HEAD ${path('init-0.mp4')}`);
    const beat = request(`POST ${path('beat')}`, 'Content-Length: 2');
    expect(await talk([plain, beat, 'hi', plain], 3)).toEqual(['200', '204', '200']);
    expect(await talk([plain.slice(0, 20), plain.slice(20)], 1)).toEqual(['200']);
    expect(await talk([request(`GET ${path('init-0.mp4')}`, 'Connection: close')], 2)).toEqual(['200']);
    expect(await talk(['nonsense\r\n\r\n'], 2)).toEqual(['400']);
  });
});

describe('changes on air', () => {
  test('two programmes may follow one source', async () => {
    const second = { ...driver.onAir(), programmeId: randomUUID() };
    await driver.desire({ programmes: [driver.state.programmes[0]!, second] });
    const address = `${driver.origin}/p/${second.programmeId}/${grantFor(second.programmeId, 'public')}/live.m3u8`;
    await until(
      async () => (await (await fetch(address)).text()).includes('#EXTINF'),
      'the second programme',
    );
    await driver.desire({ programmes: [driver.state.programmes[0]!] });
    expect((await ask('live.m3u8')).status).toBe(200);
  });

  test('another source ends the run of the first, and the programme waits for it', async () => {
    const programme = driver.state.programmes[0]!;
    await driver.desire({ programmes: [{ ...programme, sourceId: randomUUID() }] });
    await until(async () => !(await driver.node.figures()).programmes[0]!.signal.present, 'the signal to go');
    await driver.desire({ programmes: [programme] });
    await until(
      async () => (await driver.node.figures()).programmes[0]!.signal.present,
      'the signal to be back',
    );
    expect(await (await ask('live.m3u8')).text()).toContain('#EXT-X-DISCONTINUITY');
  });

  test('a shorter window to go back in is obeyed at once', async () => {
    const long = (await (await ask('live.m3u8')).text()).match(/#EXTINF/g)!.length;
    await until(
      async () => (await (await ask('live.m3u8')).text()).match(/#EXTINF/g)!.length > Math.max(7, long),
      'a longer list',
    );
    await driver.desire({ programmes: [{ ...driver.state.programmes[0]!, rewindWindowMs: 0 }] });
    await until(
      async () => (await (await ask('live.m3u8')).text()).match(/#EXTINF/g)!.length <= 7,
      'a shorter list',
    );
  });
});

describe('what fewer may watch than before', () => {
  const status = async (grantClass: GrantClass, file = 'live.m3u8'): Promise<number> =>
    (await fetch(driver.address(file, grantClass))).status;
  const turn = (turns: Partial<GrantTurns>): Promise<void> =>
    driver.desire({ grantTurns: { [driver.houseId]: { ...NO_TURNS, ...turns } } });

  test('a guarded grant opens what a public one does', async () => {
    expect([await status('guarded'), await status('guarded', 'main.m3u8')]).toEqual([200, 200]);
  });

  test('grants from before stop once those who still may have had time to get others', async () => {
    await turn({ guardedAtMs: [Date.now()] });
    expect(await status('guarded')).toBe(200);
    await turn({ guardedAtMs: [Date.now() - TURN_GRACE_MS] });
    expect([await status('guarded'), await status('public'), await status('desk')]).toEqual([403, 200, 200]);
    await turn({ publicAtMs: Date.now() - TURN_GRACE_MS });
    expect([await status('guarded'), await status('public'), await status('desk')]).toEqual([200, 403, 200]);
    // Of another house nothing is meant.
    await driver.desire({ grantTurns: { [randomUUID()]: { ...NO_TURNS, publicAtMs: 1 } } });
    expect(await status('public')).toBe(200);
  });

  test('who saw it live does not see the replay that is for some alone, in whatever pieces', async () => {
    await driver.desire({ guardedReplays: [driver.programmeId] });
    expect(await status('public')).toBe(200);
    const [segment] = /seg-\d+\.m4s/.exec(await (await ask('live.m3u8')).text())!;
    const command = { commandId: 'end', kind: 'end' as const, atMs: Date.now() };
    await driver.desire({ programmes: [{ ...driver.state.programmes[0]!, command }] });
    await until(async () => (await status('guarded', 'replay.m3u8')) === 200, 'the replay');
    expect([await status('public', 'replay.m3u8'), await status('public', segment)]).toEqual([403, 403]);
    expect([await status('guarded', segment), await status('desk', 'replay.m3u8')]).toEqual([200, 200]);
  });
});
