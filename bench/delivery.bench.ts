import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { get } from 'node:http';
import { connect, type Socket } from 'node:net';
import { join } from 'node:path';
import { ownFolder, tied } from './support/children.js';
import {
  makeFilm,
  median,
  NodeRig,
  option,
  pause,
  sendFilm,
  treeSeconds,
  untilQuiet,
} from './support/rig.js';

// Requests per second per core, against Debian's nginx serving the same bytes as files (the yardstick): parts and
// playlists from the media node itself, which answers players at the live edge; segments as an installation delivers
// them, with the files of `deploy/` in front, whose cache sends them by `sendfile`. What the node alone reaches with
// segments is printed beside it: a process of Node copies what nginx need not. Then two thousand players held in
// blocking reloads at once: how late the last of them is answered. What is for some alone is asked for under a guarded grant,
// against the same under an open one.

const TARGETS = { installed: 0.5, parts: 0.45, playlists: 0.3, guarded: 0.95 } as const;
type Kind = 'segments' | 'parts' | 'playlists';
const NGINX_PORT = 21_700;
const FRONT_PORT = 21_701;
const PART_MS = 340;

interface Rate {
  readonly perCoreSecond: number;
}

/** Loads one address for some seconds; requests answered for each second of processor time of who serves it. */
async function rate(url: string, pids: readonly number[], seconds: number): Promise<Rate> {
  const spent = async (): Promise<number> =>
    (await Promise.all(pids.map(treeSeconds))).reduce((sum, value) => sum + value, 0);
  const before = await spent();
  // A process of its own: what measures must not be what is slow.
  const child = tied(
    spawn(process.execPath, ['dist/bench/load.js', url, String(seconds)], {
      stdio: ['ignore', 'pipe', 'inherit'],
    }),
  );
  let answers = '';
  child.stdout.on('data', (chunk: Buffer) => (answers += String(chunk)));
  const [code] = (await once(child, 'close')) as [number];
  if (code !== 0) throw new Error(`The load ended with ${code}: ${url}`);
  return { perCoreSecond: Number(answers) / ((await spent()) - before) };
}

/** Debian's nginx with one worker; what stands in its `http` block besides the usual is the caller's. */
async function startNginx(name: string, folder: string, http: string): Promise<ChildProcess> {
  const own = join(folder, name);
  await mkdir(own);
  const temp = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
    .map((kind) => `${kind}_temp_path ${own}/${kind};`)
    .join(' ');
  await writeFile(
    join(own, 'nginx.conf'),
    `${process.getuid?.() === 0 ? 'user root;' : ''} daemon off; worker_processes 1; pid ${own}/nginx.pid;
events { worker_connections 4096; }
http { access_log off; sendfile on; tcp_nopush on; keepalive_requests 1000000; ${temp} ${http} }`,
  );
  return tied(
    spawn('nginx', ['-c', join(own, 'nginx.conf'), '-p', own, '-e', join(own, 'error.log')], {
      stdio: 'ignore',
    }),
  );
}

/** The yardstick: the same bytes as files. */
async function startYardstick(
  folder: string,
  files: Readonly<Record<string, Buffer>>,
): Promise<ChildProcess> {
  await mkdir(join(folder, 'www'));
  for (const [name, bytes] of Object.entries(files)) await writeFile(join(folder, 'www', name), bytes);
  return startNginx('yardstick', folder, `server { listen 127.0.0.1:${NGINX_PORT}; root ${folder}/www; }`);
}

/** What `deploy/` puts before the media node. */
async function startFront(folder: string, nodeAddress: string): Promise<ChildProcess> {
  const [cache, media] = await Promise.all(
    ['nginx-cache.conf', 'nginx-media.conf'].map(async (name) =>
      (await readFile(`deploy/${name}`, 'utf8'))
        .replace('HELIPHON_CACHE', join(folder, 'cache'))
        .replace('HELIPHON_MEDIA', new URL(nodeAddress).host),
    ),
  );
  return startNginx('front', folder, `${cache} server { listen 127.0.0.1:${FRONT_PORT}; ${media} }`);
}

const fetchBytes = async (address: string, headers: Record<string, string> = {}): Promise<Buffer> =>
  new Promise((resolve, reject) => {
    get(address, { headers }, (response) => {
      const chunks: Buffer[] = [];
      response.on('data', (chunk: Buffer) => chunks.push(chunk));
      response.on('end', () => resolve(Buffer.concat(chunks)));
    }).once('error', reject);
  });

/**
 * So many players, each with a connection of its own, hold the next position: how long after the first answer the last
 * one began, the worst of some turns. Bare sockets, so that it is the origin that is measured and not the asker.
 */
async function holdMany(address: string, players: number, turns: number): Promise<number> {
  const { hostname, port, pathname } = new URL(address);
  const sockets = await Promise.all(
    Array.from(
      { length: players },
      () =>
        new Promise<Socket>((resolve, reject) => {
          const socket = connect(Number(port), hostname, () => resolve(socket));
          socket.once('error', reject);
        }),
    ),
  );
  let worstMs = 0;
  for (let turn = 0; turn < turns; turn += 1) {
    const text = (await fetchBytes(address)).toString();
    const sequence = Number(/MEDIA-SEQUENCE:(\d+)/.exec(text)![1]) + (text.match(/^seg-/gm)?.length ?? 0) + 1;
    const ask = `GET ${pathname}?_HLS_msn=${sequence}&_HLS_part=0 HTTP/1.1\r\nHost: ${hostname}\r\nAccept-Encoding: gzip\r\n\r\n`;
    const answered = sockets.map(
      (socket) => new Promise<number>((resolve) => socket.once('data', () => resolve(performance.now()))),
    );
    for (const socket of sockets) socket.write(ask);
    const times = await Promise.all(answered);
    worstMs = Math.max(worstMs, Math.max(...times) - Math.min(...times));
    await pause(500);
  }
  for (const socket of sockets) socket.destroy();
  return worstMs;
}

const seconds = option('seconds', 8);
const ratios: Record<Kind | 'installed' | 'guarded', number[]> = {
  guarded: [],
  segments: [],
  parts: [],
  playlists: [],
  installed: [],
};
const lateMs: number[] = [];
for (let run = 0; run < option('runs', 3); run += 1) {
  const folder = ownFolder();
  const film = join(folder, 'film.flv');
  makeFilm(film);
  await untilQuiet();
  const rig = await NodeRig.start(join(folder, 'node'), 1);
  const sender = sendFilm(film, rig.rtmpAddress(0));
  const live = rig.liveAddress(0);
  await pause(14_000);
  const text = (await fetchBytes(live)).toString();
  const segment = /^seg-\d+\.m4s$/m.exec(text)![0];
  const part = [...text.matchAll(/URI="(part-\d+\.m4s)"/g)].at(-2)![1]!;
  const beside = (name: string): string => live.replace('live.m3u8', name);
  // What is measured has to stay the same: the sender stops, everything it sent stays.
  lateMs.push(await holdMany(live, 2000, 5));
  sender.kill('SIGKILL');
  await pause(500);
  const files: Record<Kind, { ours: string; name: string }> = {
    segments: { ours: beside(segment), name: 'segment.m4s' },
    parts: { ours: beside(part), name: 'part.m4s' },
    playlists: { ours: live, name: 'live.m3u8' },
  };
  const bytes = Object.fromEntries(
    await Promise.all(
      Object.values(files).map(
        async ({ ours, name }) => [name, await fetchBytes(ours, { 'accept-encoding': 'gzip' })] as const,
      ),
    ),
  );
  const nginx = await startYardstick(folder, bytes);
  const front = await startFront(folder, live);
  await pause(1000);
  const measure = async (
    kind: Kind,
    what: keyof typeof ratios,
    url: string,
    pids: number[],
  ): Promise<void> => {
    const mine = await rate(url, pids, seconds);
    const theirs = await rate(`http://127.0.0.1:${NGINX_PORT}/${files[kind].name}`, [nginx.pid!], seconds);
    ratios[what].push(mine.perCoreSecond / theirs.perCoreSecond);
    console.log(
      `run ${run + 1} ${what} of ${bytes[files[kind].name]!.byteLength} bytes: ours ${mine.perCoreSecond.toFixed(0)}, nginx ${theirs.perCoreSecond.toFixed(0)} requests per core second`,
    );
  };
  const node = rig.process.pid!;
  for (const kind of ['segments', 'parts', 'playlists'] as const)
    await measure(kind, kind, files[kind].ours, [node]);
  for (const kind of ['parts', 'playlists'] as const) {
    const guarded = files[kind].ours.replace(
      live.replace('live.m3u8', ''),
      rig.liveAddress(0, 'guarded').replace('live.m3u8', ''),
    );
    const open = await rate(files[kind].ours, [node], seconds);
    const some = await rate(guarded, [node], seconds);
    ratios.guarded.push(some.perCoreSecond / open.perCoreSecond);
    console.log(
      `run ${run + 1} guarded ${kind}: ${some.perCoreSecond.toFixed(0)}, open ${open.perCoreSecond.toFixed(0)} requests per core second`,
    );
  }
  const { pathname } = new URL(files.segments.ours);
  await measure('segments', 'installed', `http://127.0.0.1:${FRONT_PORT}${pathname}`, [front.pid!, node]);
  for (const child of [nginx, front]) {
    child.kill('SIGTERM');
    await once(child, 'exit');
  }
  rig.stop();
  await once(rig.process, 'exit');
}
const ratio = Object.fromEntries(
  Object.entries(ratios).map(([kind, values]) => [kind, median(values)]),
) as Record<keyof typeof ratios, number>;
const late = median(lateMs);
const passes =
  Object.entries(TARGETS).every(([kind, target]) => ratio[kind as keyof typeof TARGETS] >= target) &&
  late <= PART_MS;
console.log(
  `delivery installed_segments_ratio=${ratio.installed.toFixed(2)} node_segments_ratio=${ratio.segments.toFixed(2)} parts_ratio=${ratio.parts.toFixed(2)} playlists_ratio=${ratio.playlists.toFixed(2)} guarded_of_open=${ratio.guarded.toFixed(2)} held_2000_late_ms=${late.toFixed(0)} ratio=${ratio.installed.toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
