import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setImmediate as yielded, setTimeout as pause } from 'node:timers/promises';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import pino from 'pino';
import { FlvSource, type SourceSignal } from '@heliphon/core/ingest/flv-source';
import { readFlvFile } from '@heliphon/core/ingest/flv-tags';
import { decodeMs, type Frame, isPicture } from '@heliphon/core/media/frame';
import { Clock } from '../apps/media/src/clock.js';
import { FetchedFiles } from '../apps/media/src/control/fetched-files.js';
import { SourceConnection } from '../apps/media/src/ingest/source-connection.js';
import { LadderBudget } from '../apps/media/src/renditions/ladder-budget.js';
import { ChildProcesses } from '../apps/media/src/processes/child-processes.js';
import { Programme } from '../apps/media/src/programme/programme.js';
import { RecordingFolder } from '../apps/media/src/recording/recording-folder.js';
import { KeptReels } from '../apps/media/src/slate/kept-reels.js';
import { NodeSlates } from '../apps/media/src/slate/node-slates.js';
import { PICTURE_REELS } from '../apps/media/src/slate/picture-reels.js';
import { SOUND_REELS } from '../apps/media/src/slate/sound-reels.js';
import { ownFolder } from './support/children.js';
import { option } from './support/rig.js';

// A programme of six hours with fifty cuts, as fast as the machine goes: its clock is moved with the source's time. Its
// memory at the end of the last hour against the second (the yardstick), and how far programme and sound have
// strayed from the clock.

const HOURS = option('hours', 6);
const CUTS = option('cuts', 50);
const HOUR_MS = 3_600_000;
const CUT_MS = 20_000;
const STEP_MS = 40;
const TICK_MS = 240;
const FILM_MS = 20_000;
/** In a cut the slate is shown by a timer that nothing moves: so much time passes between two looks of it. */
const SLATE_STEP_MS = 500;
const SLATE_TIMER_MS = 20;
const BUDGET = { memoryRatio: 1.05, driftMs: 100, soundMs: 40 };

/** A clock that stands until it is moved. */
class MovedClock extends Clock {
  #ms = 1_000_000;

  move(ms: number): void {
    this.#ms += ms;
  }

  override monotonicMs(): number {
    return this.#ms;
  }

  override nowMs(): number {
    return 1_800_000_000_000 + this.#ms;
  }
}

setFlagsFromString('--expose_gc');
const collect = runInNewContext('gc') as () => void;

interface Held {
  /** Of the machine. */
  readonly residentBytes: number;
  /** What is still reachable. The index of the recording is part of it: 0.3 MB an hour. */
  readonly reachableBytes: number;
}

/** Once everything that can be let go of has been. */
function look(): Held {
  collect();
  collect();
  const { rss, heapUsed, external } = process.memoryUsage();
  return { residentBytes: rss, reachableBytes: heapUsed + external };
}

interface Film {
  readonly configured: readonly SourceSignal[];
  readonly frames: readonly Frame[];
}

async function makeSmallFilm(path: string): Promise<Film> {
  const input = `-f lavfi -i testsrc2=size=320x180:rate=25 -f lavfi -i sine=frequency=440:sample_rate=48000 -t ${FILM_MS / 1000}`;
  const code = '-c:v libx264 -preset veryfast -pix_fmt yuv420p -b:v 100k -g 50 -bf 0 -c:a aac -b:a 64k -ac 2';
  spawnSync('ffmpeg', ['-v', 'error', '-y', ...input.split(' '), ...code.split(' '), '-f', 'flv', path], {
    stdio: 'inherit',
  });
  const source = new FlvSource();
  const signals = [...readFlvFile(await readFile(path))].flatMap(({ kind, timestampMs, body }) => {
    const signal = kind === 'script' ? null : source.read({ kind, timestampMs, body });
    return signal ? [signal] : [];
  });
  return {
    configured: signals.filter(({ type }) => type === 'video-configured' || type === 'audio-configured'),
    frames: signals.flatMap((signal) => (signal.type === 'frame' ? [signal.frame] : [])),
  };
}

/** The film over and over, on an encoder's clock that goes on. */
class Encoder {
  readonly connection: SourceConnection;
  #at = 0;
  #round = 0;

  constructor(
    private readonly film: Film,
    private readonly clock: MovedClock,
  ) {
    const refuse = (): void => undefined;
    const origin = { remoteAddress: 'bench', protocol: 'rtmp' } as const;
    this.connection = new SourceConnection(randomUUID(), SOURCE, '', refuse, clock.monotonicMs(), origin);
  }

  /** Says what it sends. */
  begin(): void {
    for (const signal of this.film.configured) this.connection.take(signal, this.clock.monotonicMs());
  }

  sendUntil(ms: number): void {
    for (;;) {
      const frame = this.film.frames[this.#at]!;
      const fromMs = this.#round * FILM_MS;
      if (fromMs + decodeMs(frame) > ms) return;
      const shift = (fromMs * frame.timescale) / 1000;
      const shifted = {
        ...frame,
        decodeTime: frame.decodeTime + shift,
        presentationTime: frame.presentationTime + shift,
      };
      this.connection.take({ type: 'frame', frame: shifted }, this.clock.monotonicMs());
      this.#at = (this.#at + 1) % this.film.frames.length;
      if (this.#at === 0) this.#round += 1;
    }
  }
}

const SOURCE = randomUUID();
const folder = ownFolder();
const clock = new MovedClock();
const film = await makeSmallFilm(join(folder, 'film.flv'));
const children = new ChildProcesses();
const log = pino({ level: 'silent' });
const [stills, films] = (await Promise.all(
  ['stills', 'films'].map((name) => FetchedFiles.open(join(folder, name), '.bin', null, log)),
)) as [FetchedFiles, FetchedFiles];
await mkdir(join(folder, 'reels'), { recursive: true });
const pictures = new KeptReels(join(folder, 'reels'), clock, children, PICTURE_REELS);
const sounds = new KeptReels(join(folder, 'sounds'), clock, children, SOUND_REELS);
const slates = new NodeSlates(stills, films, pictures, sounds);
let encoder: Encoder | null = null;
const identity = { programmeId: randomUUID(), houseId: randomUUID() };
const recording = await RecordingFolder.open(join(folder, 'media'), identity.houseId, identity.programmeId);
const programme = await Programme.open(identity, recording, {
  clock,
  children,
  ladderBudget: new LadderBudget(clock),
  slates,
  observe: () => undefined,
  connectionOf: () => encoder?.connection,
  innerPlaces: true,
});
programme.setSource(SOURCE, null);
programme.setSlate({ awayAfterMs: 1500, stillIds: { coming: 'c', back: 'b' }, sound: null });
programme.setRewindWindow(600_000);
const doorsAtMs = clock.nowMs();
await programme.move({ state: 'doors', doorsAtMs }, null);
await programme.move({ state: 'air', doorsAtMs, airAtMs: doorsAtMs }, null);

/** Where the last picture and the last piece of sound that went out end, on the programme's time. */
const out = { pictureMs: 0, soundMs: 0, runs: 0 };
programme.consume({
  configure: () => (out.runs += 1),
  frame: (frame) => {
    if (isPicture(frame)) out.pictureMs = decodeMs(frame);
    else out.soundMs = decodeMs(frame);
  },
});

/** Time passes with an encoder that sends. */
async function send(lastingMs: number): Promise<void> {
  encoder = new Encoder(film, clock);
  encoder.begin();
  programme.connected(encoder.connection);
  for (let ms = 0; ms < lastingMs; ms += STEP_MS) {
    clock.move(STEP_MS);
    encoder.sendUntil(ms);
    if (ms % TICK_MS === 0) await programme.tick();
    if (ms % 1000 === 0) await yielded();
    // The disk has its own time.
    if (ms % 10_000 === 0) await recording.settled();
  }
}

/** Time passes without one. */
async function cut(lastingMs: number): Promise<void> {
  encoder!.connection.went();
  encoder = null;
  for (let ms = 0; ms < lastingMs; ms += SLATE_STEP_MS) {
    clock.move(SLATE_STEP_MS);
    await programme.tick();
    await pause(SLATE_TIMER_MS);
  }
}

const held: Held[] = [];
const betweenMs = (HOURS * HOUR_MS) / CUTS - CUT_MS;
const beganAtMs = performance.now();
const startedAtMs = clock.monotonicMs();
let longestDriftMs = 0;
for (let turn = 0; turn < CUTS; turn += 1) {
  await send(betweenMs);
  const elapsedMs = clock.monotonicMs() - startedAtMs;
  longestDriftMs = Math.max(longestDriftMs, Math.abs(elapsedMs - out.pictureMs));
  if (Math.floor(elapsedMs / HOUR_MS) > held.length) held.push(look());
  await cut(CUT_MS);
}
await send(10_000);
while (held.length < HOURS) held.push(look());
const soundMs = Math.abs(out.soundMs - out.pictureMs);
const ratio = held.at(-1)!.residentBytes / held[1]!.residentBytes;
const inWords = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`;
const passes = ratio <= BUDGET.memoryRatio && longestDriftMs <= BUDGET.driftMs && soundMs <= BUDGET.soundMs;
for (const [hour, { residentBytes, reachableBytes }] of held.entries())
  console.log(`hour ${hour + 1}: ${inWords(residentBytes)} resident, ${inWords(reachableBytes)} reachable`);
console.log(
  `soak hours=${HOURS} cuts=${CUTS} runs=${out.runs} seconds=${Math.round((performance.now() - beganAtMs) / 1000)} ` +
    `ratio=${ratio.toFixed(3)} drift_ms=${Math.round(longestDriftMs)} sound_ms=${Math.round(soundMs)} ${passes ? 'PASS' : 'FAIL'}`,
);
await programme.close();
await Promise.all([slates.stop(), films.stop()]);
await children.stop();
process.exit(passes ? 0 : 1);
