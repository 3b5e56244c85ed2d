import { ViewersNow } from '@heliphon/core/audience/viewers-now';
import type { DesiredDestination, DesiredSlate, DesiredStandby } from '@heliphon/core/control/desired-state';
import type { ProgrammeFigures } from '@heliphon/core/control/observations';
import type { ActualProgramme } from '@heliphon/core/control/reconcile';
import type { TakenUp } from '@heliphon/core/faults/fault-rules';
import type { RenditionChoice } from '@heliphon/core/ladder/renditions';
import { countsAsPicture } from '@heliphon/core/media/continuity';
import type { Frame } from '@heliphon/core/media/frame';
import type { HeardBlock } from '@heliphon/core/loudness/loudness-meter';
import { LoudnessTally } from '@heliphon/core/loudness/loudness-tally';
import { Packager } from '@heliphon/core/packaging/packager';
import { Timeline, type TimelineSignal } from '@heliphon/core/media/timeline';
import type { Tracks } from '@heliphon/core/media/track';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import { SIGNAL_GONE_AFTER_MS } from '@heliphon/core/signal/source-report';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import type { Clock } from '../clock.js';
import type { FilmPlayer } from '../films/film-player.js';
import type { FrameListener, SourceConnection } from '../ingest/source-connection.js';
import type { IndexedSegment, RecordingFolder } from '../recording/recording-folder.js';
import { StandIn } from '../slate/stand-in.js';
import { Consumers } from './consumers.js';
import { GapWatch } from './gap-watch.js';
import { InputSwitch } from './input-switch.js';
import { MovingPicture } from './moving-picture.js';
import { Places } from './places.js';
import type { ProgrammeIdentity, ProgrammePorts } from './programme-ports.js';
import type { ProgrammeConsumer } from './programme-consumer.js';
import { type Arrival, type ProgrammeStart, startOf, takenUpOf } from './programme-start.js';
import { ProgrammeTeller } from './programme-teller.js';
import { ProgrammeTime } from './programme-time.js';
import { Rendition } from '../renditions/rendition.js';
import { Renditions } from '../renditions/renditions.js';
import { ViewersHaveTeller } from './viewers-have-teller.js';

/** A gap that is shorter is bridged by what players have in store. */
const NOTICED_GAP_MS = 1000;

const REMEMBERS_EVERY_MS = 30_000;

/** One event's programme, from doors to end: what feeds it goes onto one timeline, which is packaged, recorded and sent on. */
export class Programme implements FrameListener {
  readonly viewers = new ViewersNow();
  /** As its source sends it. */
  readonly rendition: Rendition;
  /** Beside that, smaller ones. */
  readonly renditions: Renditions;
  readonly #packager: Packager;
  private readonly clock: Clock;
  private readonly connectionOf: ProgrammePorts['connectionOf'];
  readonly #standIn: StandIn;
  readonly #gaps: GapWatch;
  readonly #input: InputSwitch;
  readonly #timeline: Timeline;
  readonly #places: Places;
  readonly #consumers = new Consumers();
  readonly #time: ProgrammeTime;
  readonly #picture: MovingPicture;
  readonly #viewersHave: ViewersHaveTeller;
  readonly #teller: ProgrammeTeller;
  readonly #loudness: LoudnessTally;
  readonly #changed = new Set<() => void>();
  readonly #leg: number;
  /** It was on air already when it was opened here. */
  readonly takenUp: TakenUp | null;
  #partTargetSeconds: number | undefined;
  #life: EventLife;
  #lastCommandId: string | null;
  #isClosed = false;
  #rememberedAtMs = -Infinity;

  private constructor(
    readonly identity: ProgrammeIdentity,
    readonly folder: RecordingFolder,
    segments: IndexedSegment[],
    start: ProgrammeStart,
    { clock, slates, observe, connectionOf, innerPlaces, children, ladderBudget }: ProgrammePorts,
  ) {
    this.clock = clock;
    this.#life = start.life;
    this.#lastCommandId = start.lastCommandId;
    this.#leg = start.leg;
    this.takenUp = takenUpOf(start, segments, clock.nowMs());
    this.#partTargetSeconds = start.partTargetSeconds;
    this.#standIn = new StandIn(slates, clock, {
      stoppedMs: () => this.#time.nowMs - this.#timeline.endMs,
      show: (frame, tracks, lateMs) => this.#showSlate(frame, tracks, lateMs),
    });
    this.#standIn.takeUp(start.slateFormat, start.hasArrived || segments.some(({ isSlate }) => !isSlate));
    this.#gaps = new GapWatch(clock, this, this.#standIn);
    this.connectionOf = connectionOf;
    this.#input = new InputSwitch(clock, this.#gaps);
    this.#input.takeUp(start.film);
    this.#timeline = new Timeline(start.stoppedAt.endMs);
    this.#places = new Places(clock, innerPlaces, (rendition) => this.renditions.feedFor(rendition));
    this.#consumers.add(
      {
        configure: (tracks) => this.#places.configure(null, tracks),
        frame: (frame) => this.#places.frame(null, frame),
      },
      null,
    );
    this.#picture = new MovingPicture(clock);
    this.#viewersHave = new ViewersHaveTeller(identity.programmeId, observe);
    this.#teller = new ProgrammeTeller(identity.programmeId, clock, observe);
    this.#loudness = new LoudnessTally(start.loudness);
    this.#packager = new Packager(start.stoppedAt);
    const renditionPorts = {
      utcMsOf: (programmeMs: number) => this.startsAtUtcMs + programmeMs,
      onChange: () => this.#tellChanged(),
    };
    this.rendition = new Rendition(folder, segments, renditionPorts);
    this.renditions = new Renditions(this.rendition, {
      ...renditionPorts,
      clock,
      children,
      budget: ladderBudget,
      onOffer: () => this.#places.feedAll(),
      onRun: (name, tracks) => this.#places.configure(name, tracks),
      onFrame: (name, frame) => this.#places.frame(name, frame),
    });
    this.rendition.airAtMs = start.airAtMs;
    this.rendition.endAtMs = start.endAtMs;
    this.#listKept();
    const last = segments.findLast(({ isSlate }) => !isSlate);
    this.#picture.takeUp(
      last && start.life.state !== 'planned' ? last.utcMs + last.durationSeconds * 1000 : clock.nowMs(),
    );
    this.#time = new ProgrammeTime(clock);
    this.#time.anchor(this.startsAtUtcMs);
  }

  /** Takes a programme up where its folder left it, or another node. */
  static async open(
    identity: ProgrammeIdentity,
    folder: RecordingFolder,
    ports: ProgrammePorts,
    arrival: Arrival | null = null,
    onUnreadable: (path: string) => void = () => undefined,
  ): Promise<Programme> {
    const [facts, segments] = await Promise.all([folder.readFacts(onUnreadable), folder.readIndex()]);
    const start = startOf(facts, segments, arrival);
    const programme = new Programme(identity, folder, segments, start, ports);
    await programme.renditions.open();
    if (start.hasArrived) await programme.#remember();
    return programme;
  }

  get life(): EventLife {
    return this.#life;
  }

  /** Its sources, and which of them feeds it. */
  get sources(): Pick<InputSwitch, 'sourceId' | 'feedingId' | 'turn'> {
    return this.#input;
  }

  /** How long without a picture before something stands in for it; `null` where nothing does. */
  get awayAfterMs(): number | null {
    return this.#standIn.want?.awayAfterMs ?? null;
  }

  get startsAtUtcMs(): number {
    return 'doorsAtMs' in this.#life ? this.#life.doorsAtMs : this.clock.nowMs();
  }

  onChange(listener: () => void): () => void {
    this.#changed.add(listener);
    return () => this.#changed.delete(listener);
  }

  /** Hands on what the programme sends, from its next keyframe on. */
  consume(consumer: ProgrammeConsumer): () => void {
    return this.#consumers.add(consumer, this.#timeline.tracks);
  }

  /** Chooses a source, and one that stands by; `null` for none. They are listened to while the programme runs. */
  setSource(sourceId: string | null, standby: DesiredStandby | null): void {
    this.#input.choose(sourceId, standby, isRunning(this.#life) ? this.connectionOf : () => undefined);
  }

  /** One of its sources has come. */
  connected(connection: SourceConnection): void {
    if (isRunning(this.#life)) this.#input.connected(connection);
  }

  /** What stands in for a picture that is away; `null`: gaps are not filled. */
  setSlate(slate: DesiredSlate | null): void {
    this.#standIn.setWant(slate);
  }

  /** Plays a film in place of the source, which waits meanwhile. What was there before is nothing for viewers. */
  async startFilm(player: FilmPlayer): Promise<void> {
    const isFirst = this.#input.film === null;
    this.#input.beginFilm(player);
    if (isFirst) this.rendition.airAtMs = Math.max(this.#time.nowMs, this.rendition.keptUntilMs);
    this.renditions.matchOriginal();
    await this.#remember();
  }

  /** A film is over, however that came. */
  async filmOver(player: FilmPlayer): Promise<void> {
    // Taken down with us, it goes on when we are back.
    if (this.#isClosed) return;
    this.#input.filmOver(player);
    await this.#remember();
  }

  stopFilm(): void {
    this.#input.stopFilm();
  }

  setRewindWindow(rewindWindowMs: number): void {
    this.rendition.setRewindWindow(rewindWindowMs);
    this.renditions.matchOriginal();
    this.#listKept();
  }

  /** Which smaller pictures there are beside the original, and whether they stay for the replay. */
  setRenditions(choice: RenditionChoice, isKept: boolean): void {
    this.renditions.choose(choice, isKept);
  }

  /** Nearly full: recording stops, live goes on, and both beginnings and ends are told. */
  setDisk(disk: DiskState): void {
    this.rendition.setDisk(disk);
    this.renditions.setDisk(disk);
    this.#tellRecording();
  }

  /** Moves the event's life; remembers it on disk before anybody is told. */
  async move(life: EventLife, commandId: string | null): Promise<void> {
    const before = this.#life;
    this.#life = life;
    this.#lastCommandId = commandId;
    if (before.state === 'planned' && isRunning(life)) {
      this.#time.anchor(this.startsAtUtcMs);
      this.#gaps.begin();
      this.#input.begin(this.connectionOf);
    }
    if ('airAtMs' in life) this.rendition.airAtMs ??= this.#time.at(life.airAtMs);
    if (life.state === 'kept' && before.state !== 'kept') this.#finish(life.endAtMs);
    this.renditions.matchOriginal();
    await this.#remember();
    this.#tellRecording();
    if (life === before || life.state === before.state) return;
    this.#teller.moved(life);
    if (life.state === 'kept') {
      // Not waited for: what its encoder has still to say holds up nobody.
      void this.renditions.finish();
      await this.folder.close();
      this.reportRecording();
    }
    this.#tellChanged();
  }

  frame(frame: Frame, tracks: Tracks, lateMs: number): void {
    const isSeen = countsAsPicture(frame, tracks);
    if (isSeen) this.#picture.frameCame();
    const signals = this.#timeline.push(frame, tracks, this.#time.nowMs - lateMs);
    if (this.#standIn.learn(signals)) void this.#remember();
    this.#pass(signals);
    if (!isSeen || !this.#timeline.tracks) return;
    this.#picture.become(true);
    this.#tellViewersHave();
  }

  #showSlate(frame: Frame, tracks: Tracks, lateMs: number): void {
    this.#pass(this.#timeline.push(frame, tracks, this.#time.nowMs - lateMs, true));
    this.#viewersHave.tell({ kind: 'slate' }, this.clock.nowMs());
  }

  /** What was heard in a source: it counts while that is what viewers of the event have. */
  heard(sourceId: string, block: HeardBlock): void {
    const isShown = this.#viewersHave.kind === 'picture' && this.#input.feedingId === sourceId;
    if (this.#life.state === 'air' && isShown) this.#loudness.take(block);
  }

  sourceWent(): void {
    if (!this.#timeline.isRunning) return;
    this.#picture.become(false);
    this.#pass(this.#timeline.break());
    if (this.#picture.silentMs > NOTICED_GAP_MS) this.#tellViewersHave();
  }

  /** Notices a picture that stands still: no frame for 3 s is no signal, even on an open connection. */
  tick(): void {
    this.#noticeStandstill();
    if (!isRunning(this.#life) || this.#isClosed) return;
    // Only one that runs here has its gaps filled: others are opened to be read.
    this.#gaps.begin();
    this.#standIn.prepare();
    this.renditions.tick();
    // What was heard is in no file of its own.
    if (this.clock.monotonicMs() - this.#rememberedAtMs > REMEMBERS_EVERY_MS) void this.#remember();
    if (!this.#picture.state.present) this.#tellViewersHave();
  }

  #noticeStandstill(): void {
    if (this.#standIn.isPlaying || !this.#timeline.isRunning) return;
    if (this.#picture.silentMs < SIGNAL_GONE_AFTER_MS) return;
    if (this.#input.comesLate) this.#picture.become(false);
    else this.sourceWent();
  }

  startDestination(destination: DesiredDestination): void {
    this.#places.start(destination);
  }

  /** Another size for one place. */
  feedDestination(destinationId: string, rendition: string | null): void {
    this.#places.choose(destinationId, rendition);
  }

  stopDestination(destinationId: string): Promise<void> {
    return this.#places.stop(destinationId);
  }

  actual(): ActualProgramme {
    return {
      programmeId: this.identity.programmeId,
      life: this.#life,
      sourceId: this.#input.sourceId,
      standby: this.#input.standby,
      lastCommandId: this.#lastCommandId,
      rewindWindowMs: this.rendition.rewindWindowMs,
      slate: this.#standIn.want,
      renditions: this.renditions.figures.choice,
      keepsRenditions: this.renditions.isKept,
      film: this.#input.film,
      signal: this.#picture.knowledge,
      destinations: this.#places.addresses,
    };
  }

  figures(): ProgrammeFigures {
    return {
      programmeId: this.identity.programmeId,
      sourceId: this.#input.feedingId,
      state: this.#life.state,
      signal: this.#picture.state,
      viewersHave: this.#viewersHave.kind,
      filmLeftMs: this.#input.filmLeftMs,
      viewers: this.viewers.count(this.clock.monotonicMs()),
      viewersAt: this.viewers.bySite(this.clock.monotonicMs()),
      keptMs: this.rendition.keptMs,
      recordingStopped: this.rendition.recordingStopped,
      sizes: this.renditions.figures,
      destinations: this.#places.figures,
    };
  }

  async close(): Promise<void> {
    this.#isClosed = true;
    this.#gaps.finish();
    this.#input.close();
    this.#pass(this.#timeline.break());
    await Promise.all([this.#places.close(), this.folder.close(), this.renditions.stop()]);
    this.#tellChanged();
  }

  /** Opened again after it was over: the server may know of its end no more, having been put back to an earlier day. */
  tellAgain(): void {
    if (this.#life.state !== 'kept') return;
    this.#teller.moved(this.#life);
    this.reportRecording();
  }

  /** Tells how much of it is kept. */
  reportRecording(): void {
    const loudness = this.#loudness.report();
    this.#teller.kept(this.rendition, loudness.integratedLufs === null ? null : loudness);
  }

  #pass(signals: readonly TimelineSignal[]): void {
    for (const signal of signals) {
      const outputs = this.#packager.take(signal);
      for (const output of outputs)
        if (output.type === 'part-rule') void this.#choosePartTarget(output.rule.targetSeconds);
      this.rendition.take(outputs);
      this.renditions.take(signal, outputs);
      this.#consumers.take(signal);
    }
  }

  #finish(endAtMs: number): void {
    this.rendition.endAtMs = this.#time.at(endAtMs);
    this.#gaps.finish();
    this.#input.finish();
    this.#picture.become(false);
    this.#pass(this.#timeline.break());
    this.rendition.close();
  }

  #listKept(): void {
    this.rendition.list(this.#leg, this.#life.state === 'kept', this.#partTargetSeconds);
  }

  #choosePartTarget(targetSeconds: number): Promise<void> {
    this.#partTargetSeconds = targetSeconds;
    return this.#remember();
  }

  /** A gap between two inputs that no tick falls into is none. */
  #tellViewersHave(): void {
    const { present } = this.#picture.state;
    const feed = present ? this.#input.feed : null;
    if (feed) return this.#viewersHave.tell(feed, this.clock.nowMs());
    if (this.#standIn.isPlaying) return;
    // What was sent last may have been a slate.
    const sentUntilMs = this.startsAtUtcMs + this.#timeline.endMs;
    const sinceMs = Math.max(this.#picture.lastFrameAtMs ?? 0, sentUntilMs);
    this.#viewersHave.tell({ kind: 'nothing' }, Math.min(sinceMs, this.clock.nowMs()));
  }

  #tellRecording(): void {
    if (isRunning(this.#life)) this.#teller.recording(this.rendition.recordingStopped);
  }

  #remember(): Promise<void> {
    this.#rememberedAtMs = this.clock.monotonicMs();
    return this.folder.writeFacts({
      ...this.identity,
      life: this.#life,
      lastCommandId: this.#lastCommandId,
      airAtProgrammeMs: this.rendition.airAtMs,
      endAtProgrammeMs: this.rendition.endAtMs,
      leg: this.#leg,
      film: this.#input.film,
      loudness: this.#loudness.state,
      ...(this.#standIn.format ? { slateFormat: this.#standIn.format } : {}),
      ...(this.#partTargetSeconds === undefined ? {} : { partTargetSeconds: this.#partTargetSeconds }),
    });
  }

  #tellChanged(): void {
    for (const listener of this.#changed) listener();
  }
}

const isRunning = (life: EventLife): boolean => life.state === 'doors' || life.state === 'air';
