import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { ownFolder, tied } from './support/children.js';
import { coresOf, makeFilm, median, NodeRig, option, pause, sendFilm, untilQuiet } from './support/rig.js';

// Processor time of twenty straight programmes with recording and no viewers, looked at and listened to (black, still, loudness) and once more without,
// against twenty bare `ffmpeg -c copy` from RTMP to fragmented-MP4 HLS (the yardstick), fed by the same senders.

const COUNT = 20;
const BUDGET_CORES = 0.03;
const BUDGET_RATIO = 1.5;
const FIRST_PORT = 21_500;
const WARM_UP_MS = 8000;

async function measureOurs(
  folder: string,
  film: string,
  seconds: number,
  signals: 'checked' | 'unchecked',
): Promise<number> {
  const rig = await NodeRig.start(join(folder, signals), COUNT, { signals });
  const senders = rig.programmes.map((_, index) => sendFilm(film, rig.rtmpAddress(index)));
  await pause(WARM_UP_MS);
  const cores = await coresOf([rig.process.pid!], seconds);
  for (const sender of senders) sender.kill('SIGKILL');
  rig.stop();
  await once(rig.process, 'exit');
  return cores / COUNT;
}

async function measureBare(folder: string, film: string, seconds: number): Promise<number> {
  const receivers: ChildProcess[] = [];
  for (let index = 0; index < COUNT; index += 1) {
    const out = join(folder, `bare-${index}`);
    await mkdir(out);
    const input = ['-v', 'quiet', '-listen', '1', '-i', `rtmp://127.0.0.1:${FIRST_PORT + index}/live/x`];
    const hls = [
      '-c',
      'copy',
      '-f',
      'hls',
      '-hls_segment_type',
      'fmp4',
      '-hls_time',
      '2',
      '-hls_list_size',
      '0',
    ];
    receivers.push(
      tied(spawn('ffmpeg', [...input, ...hls, join(out, 'live.m3u8')], { stdio: 'ignore', cwd: out })),
    );
  }
  await pause(2000);
  const senders = receivers.map((_, index) =>
    sendFilm(film, `rtmp://127.0.0.1:${FIRST_PORT + index}/live/x`),
  );
  await pause(WARM_UP_MS);
  const cores = await coresOf(
    receivers.map((receiver) => receiver.pid!),
    seconds,
  );
  for (const child of [...senders, ...receivers]) child.kill('SIGKILL');
  return cores / COUNT;
}

const seconds = option('seconds', 60);
const results = [];
for (let turn = 0; turn < option('runs', 3); turn += 1) {
  const folder = ownFolder();
  const film = join(folder, 'film.flv');
  makeFilm(film);
  await untilQuiet();
  const ours = await measureOurs(folder, film, seconds, 'checked');
  await untilQuiet();
  const unchecked = await measureOurs(folder, film, seconds, 'unchecked');
  await untilQuiet();
  const bare = await measureBare(folder, film, seconds);
  console.log(
    `run ${turn + 1}: ours ${ours.toFixed(4)}, unchecked ${unchecked.toFixed(4)}, bare ${bare.toFixed(4)} core a programme`,
  );
  results.push({ ours, unchecked, bare });
}
const ours = median(results.map((result) => result.ours));
const ratio = median(results.map((result) => result.ours / result.bare));
const uncheckedRatio = median(results.map((result) => result.unchecked / result.bare));
const passes = ours <= BUDGET_CORES && ratio <= BUDGET_RATIO;
console.log(
  `straight core=${ours.toFixed(4)} ratio=${ratio.toFixed(2)} unchecked=${uncheckedRatio.toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
