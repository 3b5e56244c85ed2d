import { mkdir, statfs } from 'node:fs/promises';
import { availableParallelism, loadavg } from 'node:os';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { type DesiredState, NO_DESIRED_STATE } from '@heliphon/core/control/desired-state';
import type { Figures, NodeSelf, Observation, SourceFigures } from '@heliphon/core/control/observations';
import { type Action, keyOf, reconcile } from '@heliphon/core/control/reconcile';
import { afterFailure, among, mayTry, NO_TROUBLES, without } from '@heliphon/core/control/retry';
import { type DiskState, diskState } from '@heliphon/core/storage/disk-space';
import { Clock } from './clock.js';
import type { MediaConfig } from './config.js';
import { ControlLink, type LinkSettings } from './control/control-link.js';
import { DesiredStore } from './control/desired-store.js';
import { FetchedFiles } from './control/fetched-files.js';
import { Journal } from './control/journal.js';
import { filmFile } from './films/film-player.js';
import { TrustedProxies } from './ingest/address-of.js';
import { CameraServer } from './ingest/camera-server.js';
import { Thumbnailer } from './ingest/thumbnailer.js';
import { RtmpServer } from './ingest/rtmp-server.js';
import { SignalProbe } from './ingest/signal-probe.js';
import type { SourceConnection } from './ingest/source-connection.js';
import { SrtListeners } from './ingest/srt-listeners.js';
import { WhipServer } from './ingest/whip-server.js';
import { SourceRegistry } from './ingest/source-registry.js';
import { NodeActions } from './node-actions.js';
import { NodeMetrics } from './metrics.js';
import { GrantChecker } from './origin/grant-checker.js';
import { OriginServer } from './origin/origin-server.js';
import { QuickPictures } from './quick/quick-pictures.js';
import { ChildProcesses } from './processes/child-processes.js';
import { FaultWatcher } from './programme/fault-watcher.js';
import { ProgrammeRelays } from './programme/programme-relays.js';
import { Programmes } from './programme/programmes.js';
import { Joiner } from './recording/joiner.js';
import { RecordingFolder } from './recording/recording-folder.js';
import { LadderBudget } from './renditions/ladder-budget.js';
import { NodeSlates } from './slate/node-slates.js';
import { KeptReels } from './slate/kept-reels.js';
import { PICTURE_REELS } from './slate/picture-reels.js';
import { SOUND_REELS } from './slate/sound-reels.js';

const TICK_MS = 250;
const FIGURES_EVERY_TICKS = 4;
/** Actions lead to others (a programme opened has to be moved); more rounds than this would be a fault of ours. */
const MAX_ROUNDS = 8;
/** After a start encoders have so long to come back before their silence counts. */
const SETTLES_AFTER_MS = 10_000;

/** How much of its processors a machine uses; 1 is all of them. */
const loadNow = (): number => loadavg()[0]! / availableParallelism();

/** The media node: makes true what the desired state says, and tells what happened. */
export class MediaNode {
  readonly clock = new Clock();
  readonly #children = new ChildProcesses();
  readonly #grants = new GrantChecker(this.clock);
  readonly #registry: SourceRegistry;
  readonly #pictures: Thumbnailer;
  readonly #rtmp: RtmpServer;
  readonly #cameras: CameraServer;
  readonly #quick: QuickPictures;
  readonly #origin: OriginServer;
  readonly #programmes: Programmes;
  readonly #slates: NodeSlates;
  readonly #probes = new WeakMap<SourceConnection, SignalProbe>();
  readonly #whip: WhipServer;
  readonly #srt: SrtListeners;
  readonly #relays: ProgrammeRelays;
  readonly #faults: FaultWatcher;
  readonly #ladderBudget = new LadderBudget(this.clock);
  readonly #joiner: Joiner;
  readonly #actions: NodeActions;
  readonly #metrics = new NodeMetrics();
  #desired: DesiredState = NO_DESIRED_STATE;
  #link: ControlLink | null = null;
  #timer: NodeJS.Timeout | null = null;
  /** Under way. */
  #ticking: Promise<void> | null = null;
  #ticks = 0;
  #disk: { state: DiskState; freeBytes: number } = { state: 'plenty', freeBytes: 0 };
  #reconciling: Promise<void> | null = null;
  #again = false;
  #troubles = NO_TROUBLES;
  /** On the monotone clock; `null` until all ports are open. */
  private listeningSinceMs: number | null = null;
  rtmpPort = 0;
  rtmpsPort: number | null = null;
  playbackPort = 0;

  private constructor(
    private readonly config: MediaConfig,
    private readonly journal: Journal,
    private readonly store: DesiredStore,
    private readonly films: FetchedFiles,
    stills: FetchedFiles,
    private readonly log: Logger,
  ) {
    const keptIn = (name: string) =>
      [join(config.dataFolder, 'node', name), this.clock, this.#children] as const;
    const pictures = new KeptReels(...keptIn('slates'), PICTURE_REELS);
    const sounds = new KeptReels(...keptIn('slate-sounds'), SOUND_REELS);
    this.#slates = new NodeSlates(stills, films, pictures, sounds);
    const connectionOf = (sourceId: string) => this.#registry.connectionOf(sourceId);
    const { innerPlaces } = config;
    const ports = {
      clock: this.clock,
      children: this.#children,
      ladderBudget: this.#ladderBudget,
      slates: this.#slates,
      observe: this.#observe,
      connectionOf,
      innerPlaces,
    };
    this.#programmes = new Programmes(this.#mediaFolder, ports, log);
    this.#registry = new SourceRegistry(this.clock, this.#observe, (connection) => {
      if (config.checksSignals) this.#probe(connection);
      for (const programme of this.#programmes.running.values()) programme.connected(connection);
    });
    this.#pictures = new Thumbnailer(this.clock, this.#children, connectionOf);
    const proxies = new TrustedProxies(config.trustedProxies);
    this.#whip = new WhipServer(this.#registry, this.clock, this.#children, config.whip, proxies);
    this.#srt = new SrtListeners(this.#registry, this.clock, this.#children, {
      bind: config.bind,
      firstPort: config.srtFirstPort,
    });
    this.#relays = new ProgrammeRelays(this.#registry, this.clock);
    this.#faults = new FaultWatcher(this.clock, this.#registry, this.#observe);
    this.#joiner = new Joiner(
      {
        openFolder: ({ houseId, programmeId }) =>
          RecordingFolder.open(this.#mediaFolder, houseId, programmeId),
        joined: (join) => this.#programmes.joined(join),
      },
      log,
    );
    this.#rtmp = new RtmpServer(this.#registry, this.clock);
    this.#cameras = new CameraServer(this.#registry, proxies, this.clock, this.#children);
    this.#actions = new NodeActions({
      programmes: this.#programmes,
      registry: this.#registry,
      films,
      clock: this.clock,
      children: this.#children,
      log,
      wantedProgramme: (id) => this.#desired.programmes.find(({ programmeId }) => programmeId === id),
    });
    const runningProgramme = (programmeId: string) => this.#programmes.running.get(programmeId);
    this.#quick = new QuickPictures({ grants: this.#grants, runningProgramme });
    this.#origin = new OriginServer({
      nodeId: config.nodeId,
      grants: this.#grants,
      clock: this.clock,
      children: this.#children,
      runningProgramme,
      findProgramme: (programmeId) => this.#programmes.find(programmeId),
      isElsewhere: (programmeId) => this.#desired.elsewhere.includes(programmeId),
      whip: (request, response) => this.#whip.serve(request, response),
      upgrade: (request, socket, head) =>
        this.#quick.upgrade(request, socket, head) || this.#cameras.upgrade(request, socket, head),
      look: (sourceId) => this.#pictures.look(sourceId),
      metrics: () =>
        this.#metrics.render({
          figures: this.figures(),
          children: this.#children.facts(),
          srtListeners: this.#srt.facts().size,
          relays: this.#relays.facts().size,
          joinsWaiting: this.#joiner.facts().waiting,
          journalWaiting: this.journal.waiting,
          requestsAnswered: this.requestsAnswered,
        }),
    });
  }

  /**
   * Takes up what was on air, and opens ports. The order matters: the server is asked first, since what was on air here
   * may go on at another node by now; and programmes stand before encoders may knock.
   */
  static async start(config: MediaConfig, log: Logger): Promise<MediaNode> {
    const folder = join(config.dataFolder, 'node');
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await mkdir(join(config.dataFolder, 'media'), { recursive: true });
    const store = new DesiredStore(folder, config.nodeSecret);
    const { serverUrl, nodeId, nodeSecret } = config;
    const origin = serverUrl === null ? null : { serverUrl, nodeId, nodeSecret };
    const films = await FetchedFiles.open(join(folder, 'films'), '.mp4', origin, log);
    const stills = await FetchedFiles.open(join(folder, 'stills'), '.jpg', origin, log);
    const node = new MediaNode(config, await Journal.open(folder), store, films, stills, log);
    await node.#programmes.look();
    node.#takeDesired(await store.load());
    await node.#lookAtDisk();
    if (origin) await node.#dial(origin);
    await node.#reconcile();
    node.playbackPort = await node.#origin.listen(config.playbackPort, config.bind);
    node.rtmpPort = await node.#rtmp.listen(config.rtmpPort, config.bind);
    if (config.secureRtmp) {
      const { port, ...files } = config.secureRtmp;
      node.rtmpsPort = await node.#rtmp.listenSecure(port, config.bind, files);
    }
    node.listeningSinceMs = node.clock.monotonicMs();
    node.#timer = setInterval(() => {
      node.#ticking ??= node.#tick().finally(() => (node.#ticking = null));
    }, TICK_MS);
    node.#link?.introduce(node.#self);
    return node;
  }

  /** How many requests for playback have been answered since the start. */
  get requestsAnswered(): number {
    return this.#origin.requestsAnswered;
  }

  /** Takes a newer desired state, keeps it, and makes it true. */
  async applyDesired(state: DesiredState): Promise<void> {
    await this.#try('desired state', () => this.#takeDesired(state));
    await this.store
      .save(state)
      .catch((error: unknown) => this.log.error({ error }, 'The desired state could not be kept'));
    await this.#reconcile();
  }

  async stop(): Promise<void> {
    if (this.#timer) clearInterval(this.#timer);
    // What is closed from here on must not be taken for an encoder that has gone.
    await this.#ticking;
    this.#link?.close();
    this.#whip.close();
    this.#srt.stop();
    this.#relays.stop();
    this.#cameras.close();
    this.#quick.close();
    await this.#rtmp.close();
    await this.#reconciling;
    await this.#programmes.close();
    await this.films.stop();
    await this.#slates.stop();
    await this.#joiner.stop();
    await this.#origin.close();
    await this.#children.stop();
    await this.journal.settled();
  }

  figures(): Figures {
    return {
      atMs: this.clock.nowMs(),
      revision: this.#desired.revision,
      diskFreeBytes: this.#disk.freeBytes,
      disk: this.#disk.state,
      load: loadNow(),
      sizesRoomCores: this.#ladderBudget.roomFor(null),
      sizesMostCores: this.#ladderBudget.mostCores,
      sources: this.#sources(),
      programmes: [...this.#programmes.running].map(([programmeId, programme]) => ({
        ...programme.figures(),
        faults: this.#faults.openOf(programmeId),
      })),
      films: [...this.films.facts()],
    };
  }

  async #dial(settings: LinkSettings): Promise<void> {
    this.#link = new ControlLink(
      settings,
      this.journal,
      this.log,
      (state) => void this.applyDesired(state),
      () => void this.#try('telling again', () => this.#programmes.tellAnew()),
    );
    this.#link.dial();
    await this.#link.firstWord();
  }

  #sources(): SourceFigures[] {
    const nowMs = this.clock.monotonicMs();
    return this.#registry.connections.map((connection) => ({
      sourceId: connection.sourceId,
      report: connection.meter.report(nowMs, this.#probes.get(connection)),
      pictureTakenAtMs: this.#pictures.takenAtMs(connection.sourceId),
    }));
  }

  get #self(): NodeSelf {
    const { outside, srtFirstPort } = this.config;
    return { ...outside, mediaPort: this.playbackPort, rtmpPort: this.rtmpPort, srtFirstPort };
  }

  get #isSettled(): boolean {
    const { listeningSinceMs } = this;
    return listeningSinceMs !== null && this.clock.monotonicMs() - listeningSinceMs > SETTLES_AFTER_MS;
  }

  #probe(connection: SourceConnection): void {
    const { sourceId } = connection;
    const probe = new SignalProbe(this.clock, this.#children, (block) => {
      for (const programme of this.#programmes.running.values()) programme.heard(sourceId, block);
    });
    this.#probes.set(connection, probe);
    connection.listen(probe);
  }

  get #mediaFolder(): string {
    return join(this.config.dataFolder, 'media');
  }

  readonly #observe = (observation: Observation): void => {
    this.log.info(observation, 'Observed');
    this.journal.add(observation);
    void this.#link?.deliver();
  };

  #takeDesired(state: DesiredState): void {
    this.#desired = state;
    this.clock.setOffset(state.clockOffsetMs);
    this.#grants.setDesired(state);
    this.#registry.setSources(state.sources);
    this.#srt.apply(state.sources);
    const files = state.programmes.flatMap(({ film, slate }) => [film, slate?.sound ?? null]);
    this.films.apply(files.flatMap((file) => (file ? [filmFile(file)] : [])));
    this.#slates.apply(state.programmes);
    this.#programmes.setWithGaps(state.recordingsWithGaps);
    this.#joiner.apply(this.#disk.state === 'full' ? [] : state.joins);
  }

  /** One thing that fails holds up nothing else. */
  async #tick(): Promise<void> {
    for (const programme of this.#programmes.running.values())
      await this.#try('tick', () => programme.tick());
    await this.#reconcile();
    await this.#try('relays', () =>
      this.#relays.apply({ sources: this.#desired.sources, programmes: this.#programmes.running }),
    );
    this.#ticks += 1;
    if (this.#ticks % FIGURES_EVERY_TICKS !== 0) return;
    await this.#try('pictures', () => void this.#pictures.takeDue(this.#registry.connections));
    await this.#try('disk', () => this.#lookAtDisk());
    await this.#try('faults', () => this.#faults.look(this.#programmes.running, this.#sources(), loadNow()));
    await this.#try('figures', () => this.#link?.report(this.figures()));
  }

  async #try(what: string, work: () => unknown): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.log.error({ error: String(error), what }, 'This did not work; it is tried again');
    }
  }

  async #lookAtDisk(): Promise<void> {
    const { bavail, bsize } = await statfs(this.#mediaFolder);
    const freeBytes = bavail * bsize;
    const { diskReserveBytes: reserveBytes } = this.config;
    this.#disk = { freeBytes, state: diskState({ freeBytes, reserveBytes }, this.#disk.state) };
    this.#programmes.setDisk(this.#disk.state);
    if (this.#disk.state !== 'plenty') await this.#programmes.letGoOfSizes();
  }

  /** One run at a time; asked while running, it runs once more. */
  async #reconcile(): Promise<void> {
    this.#again = true;
    this.#reconciling ??= this.#reconcileUntilStill().finally(() => (this.#reconciling = null));
    await this.#reconciling;
  }

  async #reconcileUntilStill(): Promise<void> {
    for (let round = 0; this.#again && round < MAX_ROUNDS; round += 1) {
      this.#again = false;
      const actual = {
        isSettled: this.#isSettled,
        programmes: [...this.#programmes.running.values()].map((programme) => programme.actual()),
        connections: this.#registry.actualConnections(),
        films: this.films.facts(),
        removedRecordings: this.#programmes.removed,
        doneClips: this.#programmes.doneClips,
      };
      const actions = reconcile(this.#desired, actual, this.clock.nowMs());
      if (this.#troubles.size > 0) this.#troubles = among(this.#troubles, new Set(actions.map(keyOf)));
      for (const action of actions) this.#again = (await this.#attempt(action)) || this.#again;
    }
  }

  /**
   * One that fails holds up no other, and is tried again after a pause that grows.
   * @returns whether it was done.
   */
  async #attempt(action: Action): Promise<boolean> {
    const key = keyOf(action);
    const nowMs = this.clock.monotonicMs();
    if (!mayTry(this.#troubles, key, nowMs)) return false;
    try {
      await this.#actions.perform(action);
      this.#troubles = without(this.#troubles, key);
      return true;
    } catch (error) {
      this.#troubles = afterFailure(this.#troubles, key, nowMs);
      this.log.error({ error: String(error), action: key }, 'This did not work; it is tried again');
      return false;
    }
  }
}
