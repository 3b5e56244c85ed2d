import { createHash, createHmac, randomBytes, randomUUID } from 'node:crypto';
import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { pino } from 'pino';
import { formatGrant, type GrantClass } from '@heliphon/core/access/grant';
import type { Observation } from '@heliphon/core/control/observations';
import type { SourceReport } from '@heliphon/core/signal/source-report';
import type { DesiredProgramme, DesiredSource, DesiredState } from '@heliphon/core/control/desired-state';
import { passwordVerifier } from '@heliphon/core/ingest/encoder-auth';
import { md5Base64 } from '../src/ingest/source-registry.js';
import type { MediaConfig } from '../src/config.js';
import { MediaNode } from '../src/node.js';
import { until } from '../../../tests/until.js';

export { until };

const run = promisify(execFile);
const HOUR_MS = 3_600_000;
export const GRANT_KEY = randomBytes(32);

export const sign = (keyId: string, text: string): string | undefined =>
  keyId === 'k1' ? createHmac('sha256', GRANT_KEY).update(text).digest('base64url') : undefined;

export function grantFor(
  subjectId: string,
  grantClass: GrantClass,
  expiresAtMs = Date.now() + HOUR_MS,
): string {
  return formatGrant(subjectId, { class: grantClass, validFromMs: 0, expiresAtMs, keyId: 'k1' }, sign);
}

/** A media node of one's own on free ports, driven by a desired state that the test writes. */
export class NodeDriver {
  readonly sourceId: string;
  readonly programmeId: string;
  readonly houseId: string;
  readonly key: string;
  readonly #encoders = new Set<ChildProcess>();
  #revision = 0;
  state: DesiredState;

  private constructor(
    readonly folder: string,
    public node: MediaNode,
    beside: NodeDriver | null,
  ) {
    this.sourceId = beside?.sourceId ?? randomUUID();
    this.programmeId = beside?.programmeId ?? randomUUID();
    this.houseId = beside?.houseId ?? randomUUID();
    this.key = beside?.key ?? randomBytes(20).toString('hex');
    this.state = {
      revision: 0,
      issuedAtMs: Date.now(),
      clockOffsetMs: 0,
      grantKeys: [{ keyId: 'k1', secretBase64: GRANT_KEY.toString('base64') }],
      sources: [this.source()],
      programmes: [],
      binnedRecordings: [],
      guardedReplays: [],
      grantTurns: {},
      recordingsWithGaps: [],
      removedRecordings: [],
      elsewhere: [],
      joins: [],
      clips: [],
    };
  }

  /** @param beside - another node of the same installation. */
  static async start(over: Partial<MediaConfig> = {}, beside: NodeDriver | null = null): Promise<NodeDriver> {
    const folder = await mkdtemp(join(tmpdir(), 'heliphon-media-'));
    return new NodeDriver(folder, await startNode(folder, over), beside);
  }

  /** Ends the node and starts another on the same folder, as the keeper would. */
  async restart(over: Partial<MediaConfig> = {}): Promise<void> {
    await this.node.stop();
    this.node = await startNode(this.folder, over);
  }

  source(over: Partial<DesiredSource> = {}): DesiredSource {
    return {
      sourceId: this.sourceId,
      user: 'tower-box',
      keySha256Hex: createHash('sha256').update(this.key).digest('hex'),
      password: null,
      lines: [],
      srt: null,
      followsProgrammeId: null,
      grantsValidFromMs: 0,
      ...over,
    };
  }

  withPassword(password: string): DesiredSource {
    const verifier = passwordVerifier('tower-box', 'salt', password, md5Base64);
    return this.source({ password: { salt: 'salt', verifier } });
  }

  /** A programme that opened its doors a second ago and is on air now. */
  onAir(over: Partial<DesiredProgramme> = {}): DesiredProgramme {
    const nowMs = Date.now();
    return {
      programmeId: this.programmeId,
      houseId: this.houseId,
      sourceId: this.sourceId,
      plan: {
        doorsAtMs: nowMs - 1000,
        airAtMs: nowMs,
        stopAtMs: nowMs + HOUR_MS,
        hardStopAtMs: nowMs + 2 * HOUR_MS,
        deadAirMs: HOUR_MS,
      },
      command: null,
      rewindWindowMs: 600_000,
      slate: null,
      renditions: 'off',
      keepsRenditions: true,
      takenOver: null,
      standby: null,
      film: null,
      grantsValidFromMs: { public: 0, desk: 0 },
      destinations: [],
      ...over,
    };
  }

  async desire(change: Partial<DesiredState>): Promise<void> {
    this.#revision += 1;
    this.state = { ...this.state, ...change, revision: this.#revision, issuedAtMs: Date.now() };
    await this.node.applyDesired(this.state);
  }

  get rtmpAddress(): string {
    return `rtmp://127.0.0.1:${this.node.rtmpPort}/in/${this.key}`;
  }

  address(file: string, grantClass: GrantClass = 'public'): string {
    return `${this.origin}/p/${this.programmeId}/${grantFor(this.programmeId, grantClass)}/${file}`;
  }

  /** A playlist as the desk sees it. */
  async playlist(file = 'live.m3u8'): Promise<string> {
    return (await fetch(this.address(file, 'desk'))).text();
  }

  async untilSegments(count: number): Promise<void> {
    const listed = async (): Promise<number> => (await this.playlist()).match(/^seg-/gm)?.length ?? 0;
    await until(async () => (await listed()) >= count, `${count} segments`);
  }

  /** What is told of the source. */
  get report(): SourceReport | undefined {
    return this.node.figures().sources[0]?.report;
  }

  /** What it has told of the kind so far, in order. */
  async told<K extends Observation['kind']>(kind: K): Promise<Extract<Observation, { kind: K }>[]> {
    const journal = await readFile(join(this.folder, 'node', 'journal.jsonl'), 'utf8');
    const entries = journal.split('\n').filter(Boolean).slice(1);
    return entries
      .map((line) => (JSON.parse(line) as { observation: Observation }).observation)
      .filter((observation) => observation.kind === kind) as Extract<Observation, { kind: K }>[];
  }

  /** Why sources were turned away so far. */
  async refusals(): Promise<string[]> {
    return (await this.told('source-refused')).map(({ reason }) => reason);
  }

  get origin(): string {
    return `http://127.0.0.1:${this.node.playbackPort}`;
  }

  /** An ffmpeg that sends a moving test picture; resolves its last words when it ends. */
  encode(options: EncoderOptions = {}): Encoder {
    const {
      size = '320x180',
      rateFps = 25,
      sound = true,
      bFrames = 0,
      shows = `testsrc2=size=${size}:rate=${rateFps}`,
      sounds = 'sine=frequency=440:sample_rate=44100',
      address = this.rtmpAddress,
      codec,
    } = options;
    const length = options.seconds ? ['-t', String(options.seconds)] : [];
    const picture = ['-re', '-f', 'lavfi', '-i', shows];
    const tone = sound ? ['-re', '-f', 'lavfi', '-i', sounds] : [];
    const code = codec ?? [
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-g',
      String(rateFps * 2),
      '-bf',
      String(bFrames),
      '-pix_fmt',
      'yuv420p',
      '-c:a',
      'aac',
      '-ac',
      '2',
    ];
    const child = spawn(
      'ffmpeg',
      ['-v', 'error', ...picture, ...tone, ...length, ...code, '-f', 'flv', address],
      {
        stdio: ['ignore', 'ignore', 'pipe'],
      },
    );
    this.#encoders.add(child);
    let words = '';
    child.stderr.on('data', (chunk: Buffer) => (words += String(chunk)));
    const ended = new Promise<string>((resolve) => child.once('close', () => resolve(words)));
    return {
      ended,
      stall: () => child.kill('SIGSTOP'),
      goOn: () => child.kill('SIGCONT'),
      stop: async () => {
        child.kill('SIGKILL');
        await ended;
      },
    };
  }

  async close(): Promise<void> {
    for (const child of this.#encoders) child.kill('SIGKILL');
    await this.node.stop();
    await rm(this.folder, { recursive: true, force: true });
  }
}

/** The number of the part that a playlist announces next. */
export const hintedPart = (playlist: string): number =>
  Number(/PRELOAD-HINT:TYPE=PART,URI="part-(\d+)\.m4s"/.exec(playlist)![1]);

export interface EncoderOptions {
  readonly size?: string;
  readonly rateFps?: number;
  readonly sound?: boolean;
  readonly bFrames?: number;
  /** What is seen and heard, as sources of ffmpeg. */
  readonly shows?: string;
  readonly sounds?: string;
  readonly seconds?: number;
  readonly address?: string;
  readonly codec?: readonly string[];
}

export interface Encoder {
  readonly ended: Promise<string>;
  stop(): Promise<void>;
  /** Its connection stays open, and nothing comes until it goes on: then what it missed, all at once. */
  stall(): void;
  goOn(): void;
}

function startNode(folder: string, over: Partial<MediaConfig> = {}): Promise<MediaNode> {
  const config = {
    bind: '127.0.0.1',
    playbackPort: 0,
    rtmpPort: 0,
    srtFirstPort: 0,
    trustedProxies: [],
    whip: { addresses: ['127.0.0.1'], portRange: undefined },
    serverUrl: null,
    secureRtmp: null,
    outside: { place: null, mediaUrl: null, rtmpUrl: null, rtmpsUrl: null },
    diskReserveBytes: 0,
    nodeId: 'test',
    checksSignals: true,
    innerPlaces: true,
    nodeSecret: 'x'.repeat(40),
  };
  return MediaNode.start({ ...config, dataFolder: folder, ...over }, pino({ level: 'silent' }));
}

/** What ffmpeg makes of a playlist: frames decoded, and complaints. Not synchronous: this process serves the playlist. */
export async function decode(address: string): Promise<{ frames: number; words: string }> {
  const input = ['-v', 'info', '-allowed_extensions', 'ALL', '-i', address];
  const { stderr } = await run('ffmpeg', [...input, '-map', '0', '-f', 'null', '-']);
  const complaints = stderr.split('\n').filter((line) => /error|invalid|non-monoton/i.test(line));
  return {
    frames: Number([...stderr.matchAll(/frame=\s*(\d+)/g)].at(-1)?.[1] ?? 0),
    words: complaints.join('\n'),
  };
}
