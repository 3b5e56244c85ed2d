import { type ChildProcess, fork, spawn, spawnSync } from 'node:child_process';
import { createHash, createHmac, randomBytes, randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { formatGrant } from '@heliphon/core/access/grant';
import { CAMERA_PATH } from '@heliphon/core/ingest/camera-protocol';
import type { DesiredState } from '@heliphon/core/control/desired-state';
import type { RenditionChoice } from '@heliphon/core/ladder/renditions';
import { tied } from './children.js';
import { watchMachine } from './machine.js';

const HOUR_MS = 3_600_000;
const CLOCK_TICKS_PER_SECOND = 100;
const GRANT_KEY = randomBytes(32);

interface RigWish {
  readonly places?: readonly string[];
  readonly signals?: 'checked' | 'unchecked';
  readonly hasSlate?: boolean;
  readonly renditions?: RenditionChoice;
}

/** A media node with so many programmes on air, each with a source of its own. */
export class NodeRig {
  readonly programmes: readonly { programmeId: string; sourceId: string; key: string }[];

  private constructor(
    readonly process: ChildProcess,
    readonly rtmpPort: number,
    readonly playbackPort: number,
    count: number,
  ) {
    this.programmes = Array.from({ length: count }, () => ({
      programmeId: randomUUID(),
      sourceId: randomUUID(),
      key: randomBytes(20).toString('hex'),
    }));
  }

  /** @param places - where the first programme also goes. @param signals - whether sources are looked at and listened to. @param hasSlate - whether one stands in for a picture that is away. @param renditions - of every programme */
  static async start(
    folder: string,
    count: number,
    { places = [], signals = 'checked', hasSlate = false, renditions = 'off' }: RigWish = {},
  ): Promise<NodeRig> {
    const child = tied(fork('dist/bench/media-node.js', [folder, signals]));
    const ports = await nextMessage<{ rtmpPort: number; playbackPort: number }>(child);
    const rig = new NodeRig(child, ports.rtmpPort, ports.playbackPort, count);
    const applied = nextMessage(child);
    child.send(rig.#desired({ places, hasSlate, renditions }));
    await applied;
    return rig;
  }

  rtmpAddress(index: number): string {
    return `rtmp://127.0.0.1:${this.rtmpPort}/in/${this.programmes[index]!.key}`;
  }

  /** By which a browser sends, or measures its upload. @param port - of whatever stands in between */
  line(index: number, port = this.playbackPort): { address: string; token: string } {
    return { address: `ws://127.0.0.1:${port}${CAMERA_PATH}`, token: this.programmes[index]!.key };
  }

  liveAddress(index: number, grantClass: 'public' | 'guarded' | 'desk' = 'public'): string {
    const { programmeId } = this.programmes[index]!;
    const grant = {
      class: grantClass,
      validFromMs: 0,
      expiresAtMs: Date.now() + HOUR_MS,
      keyId: 'k1',
    } as const;
    const text = formatGrant(programmeId, grant, (_id, signed) =>
      createHmac('sha256', GRANT_KEY).update(signed).digest('base64url'),
    );
    return `http://127.0.0.1:${this.playbackPort}/p/${programmeId}/${text}/live.m3u8`;
  }

  stop(): void {
    this.process.disconnect();
  }

  #desired({ places, hasSlate, renditions }: Required<Omit<RigWish, 'signals'>>): DesiredState {
    const nowMs = Date.now();
    return {
      revision: 1,
      issuedAtMs: nowMs,
      clockOffsetMs: 0,
      grantKeys: [{ keyId: 'k1', secretBase64: GRANT_KEY.toString('base64') }],
      sources: this.programmes.map(({ sourceId, key }) => ({
        sourceId,
        user: sourceId,
        keySha256Hex: createHash('sha256').update(key).digest('hex'),
        password: null,
        // The key opens a line too: a browser may send by it.
        lines: [{ sha256Hex: createHash('sha256').update(key).digest('hex'), untilMs: nowMs + HOUR_MS }],
        srt: null,
        followsProgrammeId: null,
        grantsValidFromMs: 0,
      })),
      binnedRecordings: [],
      guardedReplays: [],
      grantTurns: {},
      recordingsWithGaps: [],
      removedRecordings: [],
      elsewhere: [],
      joins: [],
      clips: [],
      programmes: this.programmes.map(({ programmeId, sourceId }, index) => ({
        programmeId,
        houseId: sourceId,
        sourceId,
        plan: {
          doorsAtMs: nowMs - 1000,
          airAtMs: nowMs,
          stopAtMs: nowMs + HOUR_MS,
          hardStopAtMs: nowMs + HOUR_MS,
          deadAirMs: HOUR_MS,
        },
        command: null,
        standby: null,
        renditions,
        keepsRenditions: true,
        rewindWindowMs: 600_000,
        // On plain ground: nobody draws its stills here.
        slate: hasSlate
          ? { awayAfterMs: 1500, stillIds: { coming: '0'.repeat(64), back: '0'.repeat(64) }, sound: null }
          : null,
        takenOver: null,
        film: null,
        grantsValidFromMs: { public: 0, desk: 0 },
        destinations:
          index === 0
            ? places.map((address) => ({ destinationId: randomUUID(), address, rendition: null }))
            : [],
      })),
    };
  }
}

function nextMessage<T>(child: ChildProcess): Promise<T> {
  return new Promise((resolve, reject) => {
    child.once('message', (message) => resolve(message as T));
    child.once('exit', () => reject(new Error('The media node ended')));
  });
}

/** Processor seconds of a process and of its children that have ended (proc(5), fields 14 to 17). */
export async function processorSeconds(pid: number): Promise<number> {
  const stat = await readFile(`/proc/${pid}/stat`, 'utf8');
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
  const ticks = fields.slice(11, 15).reduce((sum, field) => sum + Number(field), 0);
  return ticks / CLOCK_TICKS_PER_SECOND;
}

/** As `processorSeconds`, with the children that are alive: what a programme costs, no matter which process does the work. */
export async function treeSeconds(pid: number): Promise<number> {
  const children = (await readFile(`/proc/${pid}/task/${pid}/children`, 'utf8')).split(' ').filter(Boolean);
  const own = await processorSeconds(pid);
  const theirs = await Promise.all(children.map((child) => treeSeconds(Number(child)).catch(() => 0)));
  return theirs.reduce((sum, seconds) => sum + seconds, own);
}

/** Cores that some processes take together with their children, over a time. */
export async function coresOf(pids: readonly number[], seconds: number): Promise<number> {
  const total = async (): Promise<number> =>
    (await Promise.all(pids.map(treeSeconds))).reduce((sum, value) => sum + value, 0);
  const before = await total();
  await pause(seconds * 1000);
  return ((await total()) - before) / seconds;
}

/** Twenty seconds of 720p30 at 2.5 Mbit/s with a steady tone, keyframes every two seconds. */
export function makeFilm(path: string): void {
  const code =
    '-c:v libx264 -preset veryfast -pix_fmt yuv420p -b:v 2372k -minrate 2372k -maxrate 2372k -bufsize 2372k -x264-params nal-hrd=cbr -g 60 -sc_threshold 0 -bf 0 -c:a aac -b:a 128k';
  const input =
    '-f lavfi -i testsrc2=size=1280x720:rate=30 -f lavfi -i sine=frequency=440:sample_rate=48000 -t 20';
  spawnSync('ffmpeg', ['-v', 'error', '-y', ...input.split(' '), ...code.split(' '), '-f', 'flv', path], {
    stdio: 'inherit',
  });
}

/** Sends a film over and over in its own time, without re-encoding. */
export const sendFilm = (film: string, address: string): ChildProcess =>
  tied(
    spawn(
      'ffmpeg',
      ['-v', 'quiet', '-stream_loop', '-1', '-re', '-i', film, '-c', 'copy', '-f', 'flv', address],
      { stdio: 'ignore' },
    ),
  );

/** Waits until the machine has had little to do for two seconds, so that others are not measured with us. */
export async function untilQuiet(): Promise<void> {
  const machine = watchMachine();
  for (let attempt = 0; attempt < 60; attempt += 1) {
    await pause(2000);
    if (machine().busy < 0.1) return;
  }
  console.log('The machine did not become quiet within two minutes; measured all the same.');
}

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!;
}

export const median = (values: readonly number[]): number => quantile(values, 0.5);

/** `--runs 3 --seconds 60`. */
export function option(name: string, otherwise: number): number {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? otherwise : Number(process.argv[at + 1]);
}
