import { ViewersNow } from '@heliphon/core/audience/viewers-now';
import type { DesiredDestination, DesiredSlate } from '@heliphon/core/control/desired-state';
import type { Observation, ProgrammeFigures, RecordingStop } from '@heliphon/core/control/observations';
import type { ActualProgramme } from '@heliphon/core/control/reconcile';
import { countsAsPicture } from '@heliphon/core/media/continuity';
import type { Frame } from '@heliphon/core/media/frame';
import { Timeline, type TimelineSignal } from '@heliphon/core/media/timeline';
import type { Tracks } from '@heliphon/core/media/track';
import { playingMs, withoutSlates } from '@heliphon/core/packaging/replay-range';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import { SIGNAL_GONE_AFTER_MS } from '@heliphon/core/signal/source-report';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import type { Clock } from '../clock.js';
import type { FilmPlayer } from '../films/film-player.js';
import type { FrameListener, SourceConnection } from '../ingest/source-connection.js';
import type { IndexedSegment, RecordingFolder } from '../recording/recording-folder.js';
import type { NodeSlates } from '../slate/node-slates.js';
import { StandIn } from '../slate/stand-in.js';
import { GapWatch } from './gap-watch.js';
import { InputSwitch } from './input-switch.js';
import { MovingPicture } from './moving-picture.js';
import { Places } from './places.js';
import type { ProgrammeConsumer } from './programme-consumer.js';
import { type Arrival, type ProgrammeStart, startOf } from './programme-start.js';
import { ProgrammeTime } from './programme-time.js';
import { Rendition } from './rendition.js';
import { ViewersHaveTeller } from './viewers-have-teller.js';

export interface ProgrammeIdentity {
  readonly programmeId: string;
  readonly houseId: string;
}

/** A gap that is shorter is bridged by what players have in store. */
const NOTICED_GAP_MS = 1000;

/** What a programme gets from its node. */
export interface ProgrammePorts {
  readonly clock: Clock;
  readonly slates: NodeSlates;
  readonly observe: (observation: Observation) => void;
}

/** One event's programme, from doors to end: what feeds it goes onto one timeline, which is packaged, recorded and sent on. */
export class Programme implements FrameListener {
  readonly viewers = new ViewersNow();
  readonly rendition: Rendition;
  private readonly clock: Clock;
  private readonly observe: (observation: Observation) => void;
  readonly #standIn: StandIn;
  readonly #gaps: GapWatch;
  readonly #input: InputSwitch;
  readonly #timeline: Timeline;
  readonly #places: Places;
  readonly #consumers = new Set<ProgrammeConsumer>();
  readonly #time: ProgrammeTime;
  readonly #picture: MovingPicture;
  readonly #viewersHave: ViewersHaveTeller;
  readonly #changed = new Set<() => void>();
  readonly #leg: number;
  #partTargetSeconds: number | undefined;
  #life: EventLife;
  #lastCommandId: string | null;
  #isClosed = false;
  #toldStopped: RecordingStop | null = null;

  private constructor(
    readonly identity: ProgrammeIdentity,
    readonly folder: RecordingFolder,
    segments: IndexedSegment[],
    start: ProgrammeStart,
    { clock, slates, observe }: ProgrammePorts,
  ) {
    this.clock = clock;
    this.observe = observe;
    this.#life = start.life;
    this.#lastCommandId = start.lastCommandId;
    this.#leg = start.leg;
    this.#partTargetSeconds = start.partTargetSeconds;
    this.#standIn = new StandIn(slates, clock, {
      stoppedMs: () => this.#time.nowMs - this.#timeline.endMs,
      show: (frame, tracks, lateMs) => this.#showSlate(frame, tracks, lateMs),
    });
    this.#standIn.takeUp(start.slateFormat, start.hasArrived || segments.some(({ isSlate }) => !isSlate));
    this.#gaps = new GapWatch(clock, this, this.#standIn);
    this.#input = new InputSwitch(clock, this.#gaps);
    this.#input.takeUp(start.film);
    this.#timeline = new Timeline(start.stoppedAt.endMs);
    this.#places = new Places(clock);
    this.#consumers.add(this.#places);
    this.#picture = new MovingPicture(clock);
    this.#viewersHave = new ViewersHaveTeller(identity.programmeId, observe);
    this.rendition = new Rendition(folder, segments, start.stoppedAt, {
      utcMsOf: (programmeMs) => this.startsAtUtcMs + programmeMs,
      onChange: () => this.#tellChanged(),
      onPartTarget: (targetSeconds) => void this.#choosePartTarget(targetSeconds),
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
    if (start.hasArrived) await programme.#remember();
    return programme;
  }

  get life(): EventLife {
    return this.#life;
  }

  get sourceId(): string | null {
    return this.#input.sourceId;
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
    this.#consumers.add(consumer);
    if (this.#timeline.tracks) consumer.configure(this.#timeline.tracks);
    return () => this.#consumers.delete(consumer);
  }

  /** Chooses a source; `null` for none. It is listened to while the programme runs. */
  setSource(sourceId: string | null, connection: SourceConnection | undefined): void {
    this.#input.choose(sourceId, isRunning(this.#life) ? connection : undefined);
  }

  /** What stands in for a picture that is away; `null`: gaps are not filled. */
  setSlate(slate: DesiredSlate | null): void {
    this.#standIn.setWant(slate);
  }

  /** Plays a film in place of the source, which waits meanwhile. What was there before is nothing for viewers. */
  async startFilm(player: FilmPlayer): Promise<void> {
    const isFirst = this.#input.film === null;
    this.#input.begin(player);
    if (isFirst) this.rendition.airAtMs = Math.max(this.#time.nowMs, this.rendition.keptUntilMs);
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
    this.#listKept();
  }

  /** Nearly full: recording stops, live goes on, and both beginnings and ends are told. */
  setDisk(disk: DiskState): void {
    this.rendition.setDisk(disk);
    this.#tellRecording();
  }

  /** Moves the event's life; remembers it on disk before anybody is told. */
  async move(
    life: EventLife,
    commandId: string | null,
    connection: SourceConnection | undefined,
  ): Promise<void> {
    const before = this.#life;
    this.#life = life;
    this.#lastCommandId = commandId;
    if (before.state === 'planned' && isRunning(life)) {
      this.#time.anchor(this.startsAtUtcMs);
      this.#gaps.begin();
      this.#input.listen(connection);
    }
    if ('airAtMs' in life) this.rendition.airAtMs ??= this.#time.at(life.airAtMs);
    if (life.state === 'kept' && before.state !== 'kept') this.#finish(life.endAtMs);
    await this.#remember();
    this.#tellRecording();
    if (life === before || life.state === before.state) return;
    this.#tellMoved();
    if (life.state === 'kept') {
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
    if (!this.#picture.state.present) this.#tellViewersHave();
  }

  #noticeStandstill(): void {
    if (this.#standIn.isPlaying || !this.#timeline.isRunning) return;
    if (this.#picture.silentMs < SIGNAL_GONE_AFTER_MS) return;
    if (this.#input.comesLate) this.#picture.become(false);
    else this.sourceWent();
  }

  startDestination(destination: DesiredDestination): void {
    this.#places.start(destination, this.#timeline.tracks);
  }

  stopDestination(destinationId: string): Promise<void> {
    return this.#places.stop(destinationId);
  }

  actual(): ActualProgramme {
    return {
      programmeId: this.identity.programmeId,
      life: this.#life,
      sourceId: this.sourceId,
      lastCommandId: this.#lastCommandId,
      rewindWindowMs: this.rendition.rewindWindowMs,
      slate: this.#standIn.want,
      film: this.#input.film,
      signal: this.#picture.knowledge,
      destinations: this.#places.addresses,
    };
  }

  figures(): ProgrammeFigures {
    return {
      programmeId: this.identity.programmeId,
      state: this.#life.state,
      signal: this.#picture.state,
      viewersHave: this.#viewersHave.kind,
      filmLeftMs: this.#input.filmLeftMs,
      viewers: this.viewers.count(this.clock.monotonicMs()),
      keptMs: this.rendition.keptMs,
      recordingStopped: this.rendition.recordingStopped,
      destinations: this.#places.states,
    };
  }

  async close(): Promise<void> {
    this.#isClosed = true;
    this.#gaps.finish();
    this.#input.close();
    this.#pass(this.#timeline.break());
    await this.#places.close();
    await this.folder.close();
  }

  /** Opened again after it was over: the server may know of its end no more, having been put back to an earlier day. */
  tellAgain(): void {
    if (this.#life.state !== 'kept') return;
    this.#tellMoved();
    this.reportRecording();
  }

  /** Tells how much of it is kept. */
  reportRecording(): void {
    const segments = withoutSlates(this.rendition.replaySegments ?? []);
    this.observe({
      kind: 'recording-kept',
      programmeId: this.identity.programmeId,
      durationMs: playingMs(segments),
      gapsMs: this.rendition.gapsMs,
      sizeBytes: segments.reduce((sum, segment) => sum + segment.sizeBytes, 0),
      atMs: this.clock.nowMs(),
    });
  }

  #pass(signals: readonly TimelineSignal[]): void {
    for (const signal of signals) {
      this.rendition.take(signal);
      for (const consumer of this.#consumers)
        if (signal.type === 'run-began') consumer.configure(signal.tracks);
        else if (signal.type === 'frame') consumer.frame(signal.frame);
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

  #tellMoved(): void {
    const { programmeId } = this.identity;
    this.observe({ kind: 'programme-moved', programmeId, life: this.#life, atMs: this.clock.nowMs() });
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
    const now = this.rendition.recordingStopped;
    if (this.#toldStopped === now || !isRunning(this.#life)) return;
    this.#toldStopped = now;
    const { programmeId } = this.identity;
    const atMs = this.clock.nowMs();
    this.observe(
      now
        ? { kind: 'recording-stopped', programmeId, reason: now, atMs }
        : { kind: 'recording-resumed', programmeId, atMs },
    );
  }

  #remember(): Promise<void> {
    return this.folder.writeFacts({
      ...this.identity,
      life: this.#life,
      lastCommandId: this.#lastCommandId,
      airAtProgrammeMs: this.rendition.airAtMs,
      endAtProgrammeMs: this.rendition.endAtMs,
      leg: this.#leg,
      film: this.#input.film,
      ...(this.#standIn.format ? { slateFormat: this.#standIn.format } : {}),
      ...(this.#partTargetSeconds === undefined ? {} : { partTargetSeconds: this.#partTargetSeconds }),
    });
  }

  #tellChanged(): void {
    for (const listener of this.#changed) listener();
  }
}

const isRunning = (life: EventLife): boolean => life.state === 'doors' || life.state === 'air';
