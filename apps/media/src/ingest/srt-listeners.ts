import type { SourceEnding } from '@heliphon/core/control/observations';
import type { DesiredSource } from '@heliphon/core/control/desired-state';
import { SRT } from '@heliphon/core/control/reconcile';
import { reportOfSrt, strangerIn } from '@heliphon/core/ingest/srt-report';
import type { Clock } from '../clock.js';
import type { Child, ChildProcesses } from '../processes/child-processes.js';
import type { SrtListenerSettings } from '../srt/srt-library.js';
import type { SrtListenerNews } from '../srt/srt-listener.js';
import type { WantKeeper } from '../control/want-keeper.js';
import { feedFromFlv } from './flv-feed.js';
import type { SourceConnection } from './source-connection.js';
import type { SourceRegistry } from './source-registry.js';

type SrtSettings = NonNullable<DesiredSource['srt']>;

/** Bundled apart: a process for each listener, so that one that breaks ends no other. */
const SCRIPT = 'dist/media/srt-listener.js';

const AGAIN_MS = 300;
/** A caller that was turned away calls again at once; it need not be heard each time. */
const AFTER_REFUSAL_MS = 3000;
/** Taken out of its transport stream, and otherwise left as it is. */
const TO_FLV =
  '-nostdin -hide_banner -nostats -v info -fflags nobuffer -probesize 200000 -analyzeduration 500000 -f mpegts -i pipe:0 -map 0:v:0? -map 0:a:0? -c copy -flush_packets 1 -f flv -flvflags no_duration_filesize pipe:1';

/** Keeps a listener for every source that is to be reached over SRT, each on a port and with a passphrase of its own. */
export class SrtListeners implements WantKeeper<readonly DesiredSource[], ReadonlySet<string>> {
  readonly #listeners = new Map<string, SrtListener>();

  constructor(
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
    private readonly place: { readonly bind: string; readonly firstPort: number },
  ) {}

  apply(sources: readonly DesiredSource[]): void {
    const wanted = new Map(sources.flatMap(({ sourceId, srt }) => (srt ? [[sourceId, srt] as const] : [])));
    for (const [sourceId, listener] of this.#listeners) {
      const settings = wanted.get(sourceId);
      if (settings && isSame(settings, listener.settings)) continue;
      listener.close();
      this.#listeners.delete(sourceId);
    }
    for (const [sourceId, settings] of wanted) {
      if (this.#listeners.has(sourceId)) continue;
      const { bind, firstPort } = this.place;
      const place = { bind, port: firstPort + settings.slot };
      this.#listeners.set(
        sourceId,
        new SrtListener(sourceId, settings, place, this.registry, this.clock, this.children),
      );
    }
  }

  /** Sources that can be reached. */
  facts(): ReadonlySet<string> {
    return new Set(this.#listeners.keys());
  }

  stop(): void {
    for (const listener of this.#listeners.values()) listener.close();
    this.#listeners.clear();
  }
}

const isSame = (a: SrtSettings, b: SrtSettings): boolean =>
  a.slot === b.slot && a.passphrase === b.passphrase && a.latencyMs === b.latencyMs;

/** Waits for one caller after another. */
class SrtListener {
  #child: Child | null = null;
  #reader: Child | null = null;
  #connection: SourceConnection | null = null;
  #again: NodeJS.Timeout | null = null;
  #isClosed = false;

  constructor(
    private readonly sourceId: string,
    readonly settings: SrtSettings,
    private readonly place: Pick<SrtListenerSettings, 'bind' | 'port'>,
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
  ) {
    this.#listen();
  }

  close(): void {
    this.#isClosed = true;
    if (this.#again) clearTimeout(this.#again);
    this.#end('not-allowed-any-more');
    this.#child?.kill();
  }

  #listen(): void {
    const { passphrase, latencyMs } = this.settings;
    const listener: SrtListenerSettings = { ...this.place, passphrase, latencyMs };
    const child = this.children.fork({
      purpose: 'srt-listener',
      script: SCRIPT,
      onMessage: (news) => this.#hear(news as SrtListenerNews),
    });
    this.#child = child;
    child.stdout.on('data', (bytes: Buffer) => this.#take(bytes));
    void child.ended.then(() => {
      if (this.#child !== child) return;
      this.#end('encoder-stopped');
      if (!this.#isClosed) this.#again = setTimeout(() => this.#listen(), AGAIN_MS);
    });
    child.send(listener);
  }

  #hear(news: SrtListenerNews): void {
    if (news.type === 'called') return this.#welcome(news.address);
    if (news.type === 'counted') {
      const report = reportOfSrt(news.counts);
      if (report) this.#connection?.meter.transported(report);
    } else if (this.registry.mayTry(news.address))
      this.registry.refused(this.sourceId, 'wrong-passphrase', news.address);
  }

  #welcome(remoteAddress: string): void {
    const origin = { remoteAddress, protocol: 'srt' } as const;
    const admission = this.registry.letIn(this.sourceId, SRT, origin, () => this.#turnAway());
    if (!admission.ok) return this.#turnAway();
    this.#connection = admission.connection;
    const reader = this.children.start({ purpose: 'srt-reader', command: 'ffmpeg', args: TO_FLV.split(' ') });
    this.#reader = reader;
    feedFromFlv(reader.stdout, admission.connection, this.clock);
    void reader.ended.then((ending) => {
      if (this.#reader !== reader) return;
      const stranger = ending.type === 'killed' ? null : strangerIn(ending.lastWords);
      if (stranger) this.#connection?.refuse(`${stranger.kind}-codec`, stranger.codec);
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

  /** Listens again after a while: the caller tries again meanwhile. */
  #turnAway(): void {
    this.#end('turned-away');
    const child = this.#child;
    this.#child = null;
    child?.kill();
    if (!this.#isClosed) this.#again = setTimeout(() => this.#listen(), AFTER_REFUSAL_MS);
  }

  #end(reason: SourceEnding): void {
    const reader = this.#reader;
    this.#reader = null;
    reader?.stdout.removeAllListeners('data');
    reader?.kill();
    const connection = this.#connection;
    this.#connection = null;
    if (connection) this.registry.gone(connection, reason);
  }
}
