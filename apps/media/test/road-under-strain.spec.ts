import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { LoudnessMeter } from '@heliphon/core/loudness/loudness-meter';
import { silentFrame } from '@heliphon/core/media/silence';
import { freePort } from '../../keeper/src/ports.js';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

/** Codec type and duration of every stream of something that ffprobe can open. */
function probe(input: string): { codec: string; seconds: number; size: string }[] {
  const entries = 'stream=codec_name,duration,width,height';
  const { stdout } = spawnSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_entries', entries, input]);
  const { streams } = JSON.parse(String(stdout)) as {
    streams: { codec_name: string; duration?: string; width?: number; height?: number }[];
  };
  return streams.map((stream) => ({
    codec: stream.codec_name,
    seconds: Number(stream.duration ?? 0),
    size: `${stream.width ?? 0}x${stream.height ?? 0}`,
  }));
}

describe('what is seen and heard', () => {
  test('loudness is what ffmpeg’s own meter says of the same sound', async () => {
    const sound = join(driver.folder, 'sound.wav');
    const source =
      'sine=frequency=300:duration=12,tremolo=f=0.4:d=0.9,volume=-7dB,aformat=channel_layouts=stereo';
    spawnSync('ffmpeg', [
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      source,
      '-ar',
      '48000',
      '-c:a',
      'pcm_f32le',
      sound,
    ]);
    const theirs = String(
      spawnSync('ffmpeg', ['-nostats', '-i', sound, '-af', 'ebur128=peak=true', '-f', 'null', '-']).stderr,
    );
    const summary = theirs.slice(theirs.lastIndexOf('Summary'));
    const raw = spawnSync('ffmpeg', ['-v', 'error', '-i', sound, '-f', 'f32le', '-'], {
      maxBuffer: 1 << 28,
    }).stdout;
    const meter = new LoudnessMeter(2);
    meter.push(new Float32Array(new Uint8Array(raw).buffer));
    const ours = meter.report();
    expect(ours.integratedLufs).toBeCloseTo(Number(/I:\s+(-?[\d.]+)/.exec(summary)![1]), 0);
    expect(Math.abs(ours.integratedLufs! - Number(/I:\s+(-?[\d.]+)/.exec(summary)![1]))).toBeLessThanOrEqual(
      0.1,
    );
    expect(Math.abs(ours.truePeakDbtp! - Number(/Peak:\s+(-?[\d.]+)/.exec(summary)![1]))).toBeLessThanOrEqual(
      0.3,
    );
  });

  test('a black picture with silent sound is found out', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    const codec =
      '-vf lutyuv=16:128:128 -af volume=0 -c:v libx264 -preset ultrafast -g 25 -pix_fmt yuv420p -c:a aac';
    driver.encode({ codec: codec.split(' ') });
    await until(() => (driver.report?.video?.blackMs ?? 0) > 0, 'black');
    await until(() => (driver.report?.audio?.loudness?.silentMs ?? 0) > 2000, 'silence');
  });

  test('the silence that is filled in decodes to silence', async () => {
    const frames: [number, string][] = [
      [1, '4c40'],
      [2, '4c80'],
    ];
    for (const [channels, profile] of frames) {
      const data = silentFrame({
        config: new Uint8Array(0),
        sampleRateHz: 48_000,
        channels,
        codec: 'mp4a.40.2',
      })!;
      const length = data.byteLength + 7;
      const bytes = Buffer.from(`fff1${profile}`, 'hex');
      const header = Buffer.from([...bytes, (length >> 3) & 0xff, ((length & 7) << 5) | 0x1f, 0xfc]);
      const stream = Buffer.concat(Array.from({ length: 20 }, () => Buffer.concat([header, data])));
      const { stdout, stderr } = spawnSync('ffmpeg', '-v error -f aac -i - -f s16le -'.split(' '), {
        input: stream,
      });
      expect(String(stderr)).toBe('');
      expect(stdout.byteLength).toBeGreaterThan(10_000);
      expect(stdout.every((byte) => byte === 0)).toBe(true);
    }
  });
});

describe('a recording', () => {
  async function record(seconds: number): Promise<void> {
    const programme = driver.onAir();
    await driver.desire({ programmes: [programme] });
    driver.encode({ bFrames: 2 });
    await until(() => (driver.node.figures().programmes[0]?.keptMs ?? 0) > seconds * 1000, 'a recording');
    const command = { commandId: 'end', kind: 'end', atMs: Date.now() } as const;
    await driver.desire({ programmes: [{ ...programme, command }] });
    await until(async () => (await fetch(driver.address('replay.m3u8'))).ok, 'the replay');
  }

  test('is one MP4 file that plays from its first byte, whole or in ranges, without re-encoding', async () => {
    await record(5);
    const address = driver.address('recording.mp4', 'desk');
    const whole = Buffer.from(await (await fetch(`${address}?name=Evensong`)).arrayBuffer());
    const path = join(driver.folder, 'whole.mp4');
    await writeFile(path, whole);
    expect(whole.subarray(4, 8).toString()).toBe('ftyp');
    expect(whole.indexOf('moov')).toBeLessThan(whole.indexOf('mdat'));
    const streams = probe(path);
    expect(streams.map(({ codec }) => codec)).toEqual(['h264', 'aac']);
    const [picture, sound] = streams;
    expect(Math.abs(picture!.seconds - sound!.seconds)).toBeLessThan(0.3);
    expect(String(spawnSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'null', '-']).stderr)).toBe('');
    const range = await fetch(address, { headers: { range: 'bytes=1000-1999' } });
    expect([range.status, range.headers.get('content-range')]).toEqual([
      206,
      `bytes 1000-1999/${whole.byteLength}`,
    ]);
    expect(Buffer.from(await range.arrayBuffer()).equals(whole.subarray(1000, 2000))).toBe(true);
    expect((await fetch(driver.address('recording.mp4', 'public'))).status).toBe(404);
  });

  test('gives a picture of any moment, and none beyond its end', async () => {
    await record(4);
    const frame = await fetch(driver.address('frame-2500.jpg', 'desk'));
    expect(frame.headers.get('content-type')).toBe('image/jpeg');
    expect((await frame.arrayBuffer()).byteLength).toBeGreaterThan(2000);
    expect((await fetch(driver.address('frame-9999999.jpg', 'desk'))).status).toBe(404);
    expect((await fetch(driver.address('frame-2500.jpg', 'public'))).status).toBe(404);
  });

  test('in the bin is shut to the public, and deleted for good it leaves the disk', async () => {
    await record(3);
    const { programmeId, houseId } = driver;
    await driver.desire({ programmes: [], binnedRecordings: [programmeId] });
    expect((await fetch(driver.address('replay.m3u8'))).status).toBe(403);
    expect((await fetch(driver.address('replay.m3u8', 'desk'))).status).toBe(200);
    await driver.desire({ binnedRecordings: [], removedRecordings: [{ programmeId, houseId }] });
    await until(async () => !(await fetch(driver.address('replay.m3u8', 'desk'))).ok, 'it to be gone');
    await expect(readFile(join(driver.folder, 'media', houseId, programmeId, 'index.jsonl'))).rejects.toThrow(
      'ENOENT',
    );
  });
});

describe('with Debian’s nginx in front', () => {
  let nginx: ChildProcess | null = null;
  afterEach(async () => {
    if (!nginx) return;
    const gone = new Promise((resolve) => nginx!.once('exit', resolve));
    nginx.kill('SIGTERM');
    await gone;
    nginx = null;
  });

  /** nginx with the files of `deploy/`, and nothing else. */
  async function startNginx(): Promise<string> {
    const port = await freePort();
    const place = (text: string): string =>
      text
        .replace('HELIPHON_CACHE', join(driver.folder, 'cache'))
        .replace('HELIPHON_MEDIA', `127.0.0.1:${driver.node.playbackPort}`);
    const [cache, media] = await Promise.all(
      ['nginx-cache.conf', 'nginx-media.conf'].map(async (name) =>
        place(await readFile(`deploy/${name}`, 'utf8')),
      ),
    );
    const conf = join(driver.folder, 'nginx.conf');
    const temp = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
      .map((name) => `${name}_temp_path ${driver.folder}/${name};`)
      .join(' ');
    await writeFile(
      conf,
      `${process.getuid?.() === 0 ? 'user root;' : ''} daemon off; worker_processes 1; pid ${driver.folder}/nginx.pid; error_log ${driver.folder}/nginx.log;
events { worker_connections 4096; }
http { access_log off; ${temp} ${cache} server { listen 127.0.0.1:${port}; ${media} } }`,
    );
    nginx = spawn('nginx', ['-c', conf, '-p', driver.folder, '-e', join(driver.folder, 'nginx.log')], {
      stdio: 'ignore',
    });
    const front = `http://127.0.0.1:${port}`;
    await until(async () => (await fetch(front).catch(() => null)) !== null, 'nginx');
    return front;
  }

  test('forty players cost the node hardly more than one', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    driver.encode();
    await driver.untilSegments(1);
    const front = await startNginx();
    const path = new URL(driver.address('live.m3u8')).pathname;
    const before = driver.node.requestsAnswered;
    let answered = 0;
    const player = async (number: number): Promise<void> => {
      let address = `${front}${path}?v=player-${number}-aaaa`;
      for (let turn = 0; turn < 12; turn += 1) {
        const answer = await fetch(address);
        const text = await answer.text();
        expect([answer.status, text]).toEqual([200, expect.stringContaining('#EXTM3U')]);
        answered += 1;
        const part = /PRELOAD-HINT:TYPE=PART,URI="([^"]+)"/.exec(text)?.[1];
        const sequence = Number(/MEDIA-SEQUENCE:(\d+)/.exec(text)![1]) + (text.match(/^seg-/gm)?.length ?? 0);
        const listed = text.slice(text.lastIndexOf('\nseg-')).match(/#EXT-X-PART:/g)?.length ?? 0;
        address = `${front}${path}?_HLS_msn=${sequence}&_HLS_part=${listed}&v=player-${number}-aaaa`;
        if (!part) continue;
        await (await fetch(`${front}${path.replace('live.m3u8', part)}`)).arrayBuffer();
        answered += 1;
      }
    };
    await Promise.all(Array.from({ length: 40 }, (_, number) => player(number)));
    const reached = driver.node.requestsAnswered - before;
    expect(answered).toBeGreaterThan(800);
    // Who measures the way measures it to the node, not to what stands in front.
    expect(await (await fetch(`${front}/reach`)).text()).toBe('test');
    expect(reached).toBeLessThan(answered / 10);
  });
});
