import { mkdir, statfs } from 'node:fs/promises';
import { availableParallelism, loadavg } from 'node:os';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { type DesiredJoin, type DesiredState, NO_DESIRED_STATE } from '@heliphon/core/control/desired-state';
import type { Figures, NodeSelf, Observation } from '@heliphon/core/control/observations';
import { type Action, reconcile } from '@heliphon/core/control/reconcile';
import { type DiskState, diskState } from '@heliphon/core/storage/disk-space';
import { assertNever } from '@heliphon/core/result';
import { Clock } from './clock.js';
import type { MediaConfig } from './config.js';
import { ControlLink } from './control/control-link.js';
import { DesiredStore } from './control/desired-store.js';
import { Journal } from './control/journal.js';
import { FilmPlayer } from './films/film-player.js';
import { FilmStore } from './films/film-store.js';
import { CameraDoor } from './ingest/camera-door.js';
import { PictureTaker } from './ingest/picture-taker.js';
import { RtmpServer } from './ingest/rtmp-server.js';
import { SignalProbe } from './ingest/signal-probe.js';
import type { SourceConnection } from './ingest/source-connection.js';
import { SrtListeners } from './ingest/srt-listeners.js';
import { WhipDoor } from './ingest/whip-door.js';
import { SourceRegistry } from './ingest/source-registry.js';
import { NodeMetrics } from './metrics.js';
import { GrantChecker } from './origin/grant-checker.js';
import { OriginServer } from './origin/origin-server.js';
import { ProgrammeRelays } from './programme/programme-relays.js';
import { type Arrival, Programme } from './programme/programme.js';
import { Joiner } from './recording/joiner.js';
import { listRecordings, RecordingFolder } from './recording/recording-folder.js';

const TICK_MS = 250;
const FIGURES_EVERY_TICKS = 4;
/** Actions lead to others (a programme opened has to be moved); more rounds than this would be a fault of ours. */
const MAX_ROUNDS = 8;

/** The media node: makes true what the desired state says, and tells what happened. */
export class MediaNode {
  readonly clock = new Clock();
  readonly #grants = new GrantChecker(this.clock);
  readonly #registry: SourceRegistry;
  readonly #pictures: PictureTaker;
  readonly #rtmp: RtmpServer;
  readonly #cameras: CameraDoor;
  readonly #origin: OriginServer;
  readonly #programmes = new Map<string, Programme>();
  /** Kept programmes that somebody has asked for: their recordings, opened once. */
  readonly #kept = new Map<string, Promise<Programme | undefined>>();
  readonly #probes = new WeakMap<SourceConnection, SignalProbe>();
  readonly #whip: WhipDoor;
  readonly #srt: SrtListeners;
  readonly #relays: ProgrammeRelays;
  readonly #joiner: Joiner;
  readonly #metrics = new NodeMetrics();
  #houseOf = new Map<string, string>();
  #desired: DesiredState = NO_DESIRED_STATE;
  #link: ControlLink | null = null;
  #timer: NodeJS.Timeout | null = null;
  #ticks = 0;
  #disk: { state: DiskState; freeBytes: number } = { state: 'plenty', freeBytes: 0 };
  readonly #removed = new Set<string>();
  #reconciling: Promise<void> | null = null;
  #again = false;
  rtmpPort = 0;
  rtmpsPort: number | null = null;
  playbackPort = 0;

  private constructor(
    private readonly config: MediaConfig,
    private readonly journal: Journal,
    private readonly store: DesiredStore,
    private readonly films: FilmStore,
    private readonly log: Logger,
  ) {
    this.#registry = new SourceRegistry(this.clock, this.#observe, (connection) => {
      const probe = new SignalProbe(this.clock);
      this.#probes.set(connection, probe);
      connection.listen(probe);
      for (const programme of this.#programmes.values()) {
        if (programme.sourceId === connection.sourceId) programme.setSource(connection.sourceId, connection);
      }
    });
    this.#pictures = new PictureTaker(this.clock, (sourceId) => this.#registry.connectionOf(sourceId));
    this.#whip = new WhipDoor(this.#registry, this.clock, config.whip);
    this.#srt = new SrtListeners(this.#registry, this.clock, {
      bind: config.bind,
      firstPort: config.srtFirstPort,
      folder: join(config.dataFolder, 'node'),
    });
    this.#relays = new ProgrammeRelays(this.#registry, this.clock);
    this.#joiner = new Joiner(
      {
        openFolder: ({ houseId, programmeId }) =>
          RecordingFolder.open(this.#mediaFolder, houseId, programmeId),
        joined: (join) => this.#joined(join),
      },
      log,
    );
    this.#rtmp = new RtmpServer(this.#registry, this.clock);
    this.#cameras = new CameraDoor(this.#registry, this.clock);
    this.#origin = new OriginServer({
      nodeId: config.nodeId,
      grants: this.#grants,
      clock: this.clock,
      runningProgramme: (programmeId) => this.#programmes.get(programmeId),
      findProgramme: (programmeId) => this.#findProgramme(programmeId),
      isElsewhere: (programmeId) => this.#desired.elsewhere.includes(programmeId),
      whip: (request, response) => this.#whip.serve(request, response),
      upgrade: (request, socket, head) => this.#cameras.upgrade(request, socket, head),
      look: (sourceId) => this.#pictures.look(sourceId),
      metrics: () => this.#metrics.render(this.figures(), this.journal.waiting, this.requestsAnswered),
    });
  }

  /** Opens ports and takes up what was on air. The order matters: programmes stand before encoders may knock. */
  static async start(config: MediaConfig, log: Logger): Promise<MediaNode> {
    const folder = join(config.dataFolder, 'node');
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await mkdir(join(config.dataFolder, 'media'), { recursive: true });
    const store = new DesiredStore(folder, config.nodeSecret);
    const { serverUrl, nodeId, nodeSecret } = config;
    const origin = serverUrl === null ? null : { serverUrl, nodeId, nodeSecret };
    const films = await FilmStore.open(join(folder, 'films'), origin, log);
    const node = new MediaNode(config, await Journal.open(folder), store, films, log);
    node.#houseOf = new Map(
      (await listRecordings(node.#mediaFolder)).map(([house, programme]) => [programme, house]),
    );
    node.#takeDesired(await store.load());
    await node.#lookAtDisk();
    await node.#reconcile();
    node.playbackPort = await node.#origin.listen(config.playbackPort, config.bind);
    node.rtmpPort = await node.#rtmp.listen(config.rtmpPort, config.bind);
    if (config.secureRtmp) {
      const { port, ...files } = config.secureRtmp;
      node.rtmpsPort = await node.#rtmp.listenSecure(port, config.bind, files);
    }
    node.#timer = setInterval(() => void node.#tick(), TICK_MS);
    if (origin) {
      node.#link = new ControlLink(
        origin,
        () => node.#self,
        node.journal,
        log,
        (state) => void node.applyDesired(state),
      );
      node.#link.dial();
    }
    return node;
  }

  /** How many requests for playback have been answered since the start. */
  get requestsAnswered(): number {
    return this.#origin.requestsAnswered;
  }

  /** Takes a newer desired state, keeps it, and makes it true. */
  async applyDesired(state: DesiredState): Promise<void> {
    this.#takeDesired(state);
    await this.store
      .save(state)
      .catch((error: unknown) => this.log.error({ error }, 'The desired state could not be kept'));
    await this.#reconcile();
  }

  async stop(): Promise<void> {
    if (this.#timer) clearInterval(this.#timer);
    this.#link?.close();
    this.#whip.close();
    this.#srt.close();
    this.#relays.close();
    this.#cameras.close();
    await this.#rtmp.close();
    await this.#reconciling;
    await Promise.all([...this.#programmes.values()].map((programme) => programme.close()));
    await this.films.close();
    await this.#joiner.close();
    await this.#origin.close();
    this.#pictures.close();
    await this.journal.settled();
  }

  figures(): Figures {
    const nowMs = this.clock.monotonicMs();
    return {
      atMs: this.clock.nowMs(),
      revision: this.#desired.revision,
      diskFreeBytes: this.#disk.freeBytes,
      disk: this.#disk.state,
      load: loadavg()[0]! / availableParallelism(),
      sources: this.#registry.connections.map((connection) => ({
        sourceId: connection.sourceId,
        report: connection.meter.report(nowMs, this.#probes.get(connection)),
        pictureTakenAtMs: this.#pictures.takenAtMs(connection.sourceId),
      })),
      programmes: [...this.#programmes.values()].map((programme) => programme.figures()),
      films: [...this.films.here],
    };
  }

  get #self(): NodeSelf {
    const { outside, srtFirstPort } = this.config;
    return { ...outside, mediaPort: this.playbackPort, rtmpPort: this.rtmpPort, srtFirstPort };
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
    this.#srt.keep(state.sources);
    this.films.want(state.programmes.flatMap(({ film }) => film ?? []));
    this.#joiner.want(this.#disk.state === 'full' ? [] : state.joins);
  }

  async #tick(): Promise<void> {
    for (const programme of this.#programmes.values()) programme.tick();
    await this.#reconcile();
    this.#relays.keep(this.#desired.sources, this.#programmes);
    this.#ticks += 1;
    if (this.#ticks % FIGURES_EVERY_TICKS !== 0) return;
    void this.#pictures.takeDue(this.#registry.connections);
    await this.#lookAtDisk();
    this.#link?.report(this.figures());
  }

  async #lookAtDisk(): Promise<void> {
    const { bavail, bsize } = await statfs(this.#mediaFolder);
    const freeBytes = bavail * bsize;
    const { diskReserveBytes: reserveBytes } = this.config;
    this.#disk = { freeBytes, state: diskState({ freeBytes, reserveBytes }, this.#disk.state) };
    for (const programme of this.#programmes.values()) programme.setDisk(this.#disk.state);
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
        programmes: [...this.#programmes.values()].map((programme) => programme.actual()),
        connections: this.#registry.actualConnections(),
        films: this.films.here,
        removedRecordings: this.#removed,
      };
      for (const action of reconcile(this.#desired, actual, this.clock.nowMs())) {
        await this.#perform(action);
        this.#again = true;
      }
    }
  }

  async #perform(action: Action): Promise<void> {
    if (action.type === 'cut-connection') return this.#registry.cut(action.connectionId);
    if (action.type === 'remove-recording') return this.#removeRecording(action.programmeId, action.houseId);
    if (action.type === 'open-programme') return this.#openProgramme(action.programmeId);
    const programme = this.#programmes.get(action.programmeId);
    if (!programme) return;
    const connection = this.#registry.connectionOf(programme.sourceId ?? '');
    switch (action.type) {
      case 'move-programme':
        return programme.move(action.life, action.commandId, connection);
      case 'set-source':
        return programme.setSource(action.sourceId, this.#registry.connectionOf(action.sourceId ?? ''));
      case 'set-rewind-window':
        return programme.setRewindWindow(action.rewindWindowMs);
      case 'start-film':
        return this.#startFilm(programme, action);
      case 'stop-film':
        return programme.stopFilm();
      case 'start-destination':
        return programme.startDestination(action);
      case 'stop-destination':
        // Not awaited: a place that takes its time to say goodbye holds nobody up.
        void programme.stopDestination(action.destinationId);
        return;
      case 'close-programme':
        this.#programmes.delete(action.programmeId);
        return programme.close();
      default:
        assertNever(action);
    }
  }

  #startFilm(
    programme: Programme,
    { fileId, durationMs, offsetMs }: Extract<Action, { type: 'start-film' }>,
  ): Promise<void> {
    const source = (): SourceConnection | undefined => this.#registry.connectionOf(programme.sourceId ?? '');
    const film = { path: this.films.pathOf(fileId), fileId, durationMs, offsetMs };
    const player: FilmPlayer = new FilmPlayer(film, this.clock, () => {
      programme
        .filmOver(player, source())
        .catch((error: unknown) =>
          this.log.error({ error: String(error) }, 'The end of a film was not kept'),
        );
    });
    return programme.startFilm(player, source());
  }

  async #openProgramme(programmeId: string): Promise<void> {
    const wanted = this.#desired.programmes.find((programme) => programme.programmeId === programmeId);
    if (!wanted) return;
    this.#houseOf.set(programmeId, wanted.houseId);
    this.#kept.delete(programmeId);
    const arrival = wanted.takenOver && { ...wanted.takenOver, film: wanted.film };
    this.#programmes.set(programmeId, await this.#open(programmeId, wanted.houseId, arrival));
  }

  async #open(programmeId: string, houseId: string, arrival: Arrival | null = null): Promise<Programme> {
    const folder = await RecordingFolder.open(this.#mediaFolder, houseId, programmeId);
    const identity = { programmeId, houseId };
    const programme = await Programme.open(identity, folder, this.clock, this.#observe, arrival);
    programme.setDisk(this.#disk.state);
    return programme;
  }

  /** The recording has grown: whoever asks for it next opens it anew. */
  async #joined({ programmeId, houseId, nodeId }: DesiredJoin): Promise<void> {
    const running = this.#programmes.get(programmeId);
    this.#programmes.delete(programmeId);
    this.#kept.delete(programmeId);
    await running?.close();
    const programme = await this.#open(programmeId, houseId);
    // Deleted while its last file came.
    if (this.#removed.has(programmeId)) return programme.folder.remove();
    programme.reportRecording();
    await programme.close();
    this.#observe({ kind: 'recording-joined', programmeId, nodeId, atMs: this.clock.nowMs() });
  }

  async #removeRecording(programmeId: string, houseId: string): Promise<void> {
    const kept = await this.#kept.get(programmeId);
    this.#kept.delete(programmeId);
    this.#houseOf.delete(programmeId);
    const folder = kept?.folder ?? (await RecordingFolder.open(this.#mediaFolder, houseId, programmeId));
    await folder.remove();
    this.#removed.add(programmeId);
    this.#observe({ kind: 'recording-removed', programmeId, atMs: this.clock.nowMs() });
  }

  #findProgramme(programmeId: string): Promise<Programme | undefined> {
    const running = this.#programmes.get(programmeId);
    if (running) return Promise.resolve(running);
    const houseId = this.#houseOf.get(programmeId);
    if (!houseId) return this.#discover(programmeId);
    const known = this.#kept.get(programmeId);
    if (known) return known;
    const opened = this.#open(programmeId, houseId);
    this.#kept.set(programmeId, opened);
    opened.catch(() => this.#kept.delete(programmeId));
    return opened;
  }

  /** A recording that was put in the folder since the start. */
  async #discover(programmeId: string): Promise<Programme | undefined> {
    this.#houseOf = new Map(
      (await listRecordings(this.#mediaFolder)).map(([house, programme]) => [programme, house]),
    );
    return this.#houseOf.has(programmeId) ? this.#findProgramme(programmeId) : undefined;
  }
}
