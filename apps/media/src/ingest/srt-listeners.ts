import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { constants, openSync, rmSync } from 'node:fs';
import { Socket } from 'node:net';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import type { DesiredSource } from '@heliphon/core/control/desired-state';
import { SRT } from '@heliphon/core/control/reconcile';
import { readSrtLog, readSrtStatistics } from '@heliphon/core/ingest/srt-report';
import type { Clock } from '../clock.js';
import { feedFromFlv } from './flv-feed.js';
import type { SourceConnection } from './source-connection.js';
import type { SourceRegistry } from './source-registry.js';

type SrtLine = NonNullable<DesiredSource['srt']>;

const AGAIN_MS = 300;
/** A caller that was turned away calls again at once; it need not be heard each time. */
const AFTER_REFUSAL_MS = 3000;
const STATISTICS_EVERY_PACKETS = 200;
/** Taken out of its transport stream, and otherwise left as it is. */
const TO_FLV =
  '-nostdin -v error -fflags nobuffer -probesize 200000 -analyzeduration 500000 -f mpegts -i pipe:0 -map 0:v:0? -map 0:a:0? -c copy -flush_packets 1 -f flv -flvflags no_duration_filesize pipe:1';

/** How ffmpeg says that a picture or a sound is of a kind that we do not take. */
const NOT_OURS = /(Video|Audio) codec (\w+) not compatible/;

/** Keeps a listener for every source that is to be reached over SRT, each on a port and with a passphrase of its own. */
export class SrtListeners {
  readonly #listeners = new Map<string, SrtListener>();

  constructor(
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
    private readonly place: { readonly bind: string; readonly firstPort: number; readonly folder: string },
  ) {}

  keep(sources: readonly DesiredSource[]): void {
    const wanted = new Map(sources.flatMap(({ sourceId, srt }) => (srt ? [[sourceId, srt] as const] : [])));
    for (const [sourceId, listener] of this.#listeners) {
      const line = wanted.get(sourceId);
      if (line && isSame(line, listener.line)) continue;
      listener.close();
      this.#listeners.delete(sourceId);
    }
    for (const [sourceId, line] of wanted) {
      if (this.#listeners.has(sourceId)) continue;
      const { bind, firstPort, folder } = this.place;
      const address = `srt://${bind}:${firstPort + line.slot}`;
      const fifo = join(folder, `srt-${line.slot}.statistics`);
      this.#listeners.set(
        sourceId,
        new SrtListener(sourceId, line, address, fifo, this.registry, this.clock),
      );
    }
  }

  close(): void {
    for (const listener of this.#listeners.values()) listener.close();
    this.#listeners.clear();
  }
}

const isSame = (a: SrtLine, b: SrtLine): boolean =>
  a.slot === b.slot && a.passphrase === b.passphrase && a.latencyMs === b.latencyMs;

/** A named pipe, opened so that neither side waits for the other. */
function openFifo(path: string): Socket {
  rmSync(path, { force: true });
  execFileSync('mkfifo', ['-m', '600', path]);
  return new Socket({ fd: openSync(path, constants.O_RDWR | constants.O_NONBLOCK), writable: false });
}

/** Waits for one caller after another. */
class SrtListener {
  #child: ChildProcess | null = null;
  #reader: ChildProcess | null = null;
  #connection: SourceConnection | null = null;
  #callerAddress = 'unknown';
  #again: NodeJS.Timeout | null = null;
  #isClosed = false;

  constructor(
    private readonly sourceId: string,
    readonly line: SrtLine,
    private readonly address: string,
    /** Where its statistics come by: it writes them to a file only. */
    private readonly fifo: string,
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
  ) {
    this.#listen();
  }

  close(): void {
    this.#isClosed = true;
    if (this.#again) clearTimeout(this.#again);
    this.#end('It may not send over SRT any more');
    this.#child?.kill('SIGKILL');
  }

  #listen(): void {
    const { passphrase, latencyMs } = this.line;
    const query = `mode=listener&passphrase=${passphrase}&pbkeylen=16&latency=${latencyMs}`;
    const statistics = openFifo(this.fifo);
    const told = `-a:no -ll:note -s:${STATISTICS_EVERY_PACKETS} -statspf:json -statsout:${this.fifo}`.split(
      ' ',
    );
    const listener = ['srt-live-transmit', ...told, `${this.address}?${query}`, 'file://con'];
    // It reads nothing from us: only so does it end with us, however we end.
    const child = spawn('setpriv', ['--pdeathsig', 'KILL', ...listener], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.#child = child;
    child.stdout.on('data', (bytes: Buffer) => this.#take(bytes));
    createInterface({ input: child.stderr }).on('line', (text) => this.#hear(text));
    createInterface({ input: statistics }).on('line', (text) => {
      const report = readSrtStatistics(text);
      if (report) this.#connection?.meter.transported(report);
    });
    child.once('exit', () => statistics.destroy());
    child.once('error', () => undefined); // not installed: `./heliphon doctor` says so
    child.once('close', () => {
      this.#end('The caller hung up');
      if (!this.#isClosed) this.#again = setTimeout(() => this.#listen(), AGAIN_MS);
    });
  }

  #hear(text: string): void {
    const news = readSrtLog(text);
    if (news?.type === 'calling') this.#callerAddress = news.address;
    if (news?.type === 'wrong-passphrase' && this.registry.mayTry(this.#callerAddress))
      this.registry.refused(this.sourceId, 'wrong-passphrase', this.#callerAddress);
    if (news?.type === 'accepted') this.#welcome();
  }

  #welcome(): void {
    const origin = { remoteAddress: this.#callerAddress, protocol: 'srt' } as const;
    const admission = this.registry.letIn(this.sourceId, SRT, origin, () => this.#turnAway());
    if (!admission.ok) return this.#turnAway();
    this.#connection = admission.connection;
    const reader = spawn('ffmpeg', TO_FLV.split(' '), { stdio: ['pipe', 'pipe', 'pipe'] });
    this.#reader = reader;
    feedFromFlv(reader.stdout, admission.connection, this.clock);
    reader.stdin.on('error', () => undefined); // it ended; that is told by `close`
    let said = '';
    reader.stderr.on('data', (text: Buffer) => (said = (said + String(text)).slice(-2000)));
    reader.once('error', () => this.#turnAway());
    reader.once('close', () => {
      if (this.#reader !== reader) return;
      const [, kind, codec] = NOT_OURS.exec(said) ?? [];
      if (codec) this.#connection?.refuse(kind === 'Audio' ? 'audio-codec' : 'video-codec', codec);
      else this.#turnAway();
    });
  }

  #take(bytes: Buffer): void {
    const input = this.#reader?.stdin;
    if (!input?.writable || input.write(bytes)) return;
    const output = this.#child?.stdout;
    output?.pause();
    input.once('drain', () => output?.resume());
  }

  /** Listens anew after a while: the caller tries again meanwhile. */
  #turnAway(): void {
    this.#end('It was turned away');
    const child = this.#child;
    child?.removeAllListeners('close');
    child?.kill('SIGKILL');
    if (!this.#isClosed) this.#again = setTimeout(() => this.#listen(), AFTER_REFUSAL_MS);
  }

  #end(reason: string): void {
    const reader = this.#reader;
    this.#reader = null;
    reader?.stdout?.removeAllListeners('data');
    reader?.kill('SIGKILL');
    const connection = this.#connection;
    this.#connection = null;
    if (connection) this.registry.gone(connection, reason);
  }
}
