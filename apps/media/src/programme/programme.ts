import type { DesiredDestination, TakenOver } from '@heliphon/core/control/desired-state';
import type { DesiredFilm } from '@heliphon/core/control/film';
import type { Observation, ProgrammeFigures, RecordingStop } from '@heliphon/core/control/observations';
import type { ActualProgramme } from '@heliphon/core/control/reconcile';
import { ViewersNow } from '@heliphon/core/audience/viewers-now';
import type { GrantClass } from '@heliphon/core/access/grant';
import type { LiveWindow } from '@heliphon/core/packaging/live-window';
import { startOfLeg } from '@heliphon/core/packaging/legs';
import type { Tracks } from '@heliphon/core/packaging/init-segment';
import {
  Packager,
  type PackagerOutput,
  type SourceAudioFrame,
  type SourceVideoFrame,
} from '@heliphon/core/packaging/packager';
import { playingMs } from '@heliphon/core/packaging/replay-range';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import { SIGNAL_GONE_AFTER_MS } from '@heliphon/core/signal/source-report';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import type { Clock } from '../clock.js';
import { DestinationSender } from '../destinations/destination-sender.js';
import type { FilmPlayer } from '../films/film-player.js';
import type { FrameListener, SourceConnection } from '../ingest/source-connection.js';
import { Recorder } from '../recording/recorder.js';
import { type IndexedSegment, type RecordingFolder, startAfter } from '../recording/recording-folder.js';
import { AtTheDoor } from './at-the-door.js';
import { MovingPicture } from './moving-picture.js';
import { PartMemory } from './part-memory.js';
import { ProgrammeFilm } from './programme-film.js';
import { ProgrammeTime } from './programme-time.js';
import { VisiblePart } from './visible-part.js';

export interface ProgrammeIdentity {
  readonly programmeId: string;
  readonly houseId: string;
}

/** How a programme comes from another node. */
export interface Arrival extends TakenOver {
  readonly film: DesiredFilm | null;
}

/** Who takes what a programme sends; times are the programme's own. */
export interface ProgrammeFollower {
  configure(tracks: Tracks): void;
  video(atMs: number, frame: SourceVideoFrame): void;
  audio(atMs: number, frame: SourceAudioFrame): void;
}

/** One event's programme: a single timeline from doors to end, packaged, recorded, and sent to its places. */
export class Programme implements FrameListener {
  readonly viewers = new ViewersNow();
  readonly memory = new PartMemory();
  readonly #changed = new Set<() => void>();
  readonly #senders = new Map<string, DestinationSender>();
  readonly #followers = new Set<ProgrammeFollower>();
  readonly #time: ProgrammeTime;
  readonly #picture: MovingPicture;
  #packager: Packager;
  #tracks: Tracks | null = null;
  readonly #visible: VisiblePart;
  #life: EventLife = { state: 'planned' };
  #lastCommandId: string | null = null;
  #sourceId: string | null = null;
  #stopListening: () => void = () => undefined;
  /** What the source could not send for a while still comes, and belongs where it was. */
  #comesLate = false;
  #rewindWindowMs = 0;
  readonly #film = new ProgrammeFilm();
  #leg = 0;
  #isClosed = false;
  readonly #recorder: Recorder;
  #toldStopped: RecordingStop | null = null;

  private constructor(
    readonly identity: ProgrammeIdentity,
    readonly folder: RecordingFolder,
    segments: IndexedSegment[],
    private readonly clock: Clock,
    private readonly observe: (observation: Observation) => void,
  ) {
    this.#time = new ProgrammeTime(clock);
    this.#picture = new MovingPicture(clock);
    this.#visible = new VisiblePart(segments);
    this.#packager = new Packager(startAfter(segments));
    this.#recorder = new Recorder(folder, (programmeMs) => this.startsAtUtcMs + programmeMs);
  }

  /** Takes a programme up where its folder left it, or another node. */
  static async open(
    identity: ProgrammeIdentity,
    folder: RecordingFolder,
    clock: Clock,
    observe: (observation: Observation) => void,
    arrival: Arrival | null = null,
  ): Promise<Programme> {
    const [facts, segments] = await Promise.all([folder.readFacts(), folder.readIndex()]);
    const programme = new Programme(identity, folder, segments, clock, observe);
    if (facts) {
      programme.#life = facts.life;
      programme.#lastCommandId = facts.lastCommandId;
      programme.#visible.airAtMs = facts.airAtProgrammeMs;
      programme.#visible.endAtMs = facts.endAtProgrammeMs;
      programme.#film.takeUp(facts.film ?? null);
      programme.#leg = facts.leg ?? 0;
    }
    if (arrival && arrival.leg > programme.#leg) await programme.#goOn(arrival);
    programme.#listKept();
    programme.#time.anchor(programme.startsAtUtcMs);
    return programme;
  }

  /** Goes on where another node stopped: numbers, life and film begin where they have to be by now. */
  async #goOn({ leg, life, film }: Arrival): Promise<void> {
    this.#leg = leg;
    this.#life = life;
    this.#film.takeUp(film && life.state === 'air' ? { fileId: film.fileId, state: 'playing' } : null);
    if ('airAtMs' in life) this.#visible.airAtMs ??= life.airAtMs - life.doorsAtMs;
    this.#packager = new Packager(startOfLeg(leg, startAfter(this.#visible.segments)));
    await this.#remember();
  }

  #listKept(): void {
    this.#visible.list(this.#leg, this.#rewindMs, this.#life.state === 'kept');
  }

  get life(): EventLife {
    return this.#life;
  }

  get sourceId(): string | null {
    return this.#sourceId;
  }

  /** What the present run is made of; `null` while nothing comes in. */
  get tracks(): Tracks | null {
    return this.#tracks;
  }

  get startsAtUtcMs(): number {
    return 'doorsAtMs' in this.#life ? this.#life.doorsAtMs : this.clock.nowMs();
  }

  /** What a class of viewers may see now; `null` before its time. */
  windowFor(grantClass: GrantClass): LiveWindow | null {
    return this.#visible.windowFor(grantClass);
  }

  get replaySegments(): readonly IndexedSegment[] | null {
    return this.#visible.replay;
  }

  /** True when a class may fetch the media of a segment. */
  mayFetch(grantClass: GrantClass, sequence: number): boolean {
    return this.#visible.mayFetch(grantClass, sequence);
  }

  onChange(listener: () => void): () => void {
    this.#changed.add(listener);
    return () => this.#changed.delete(listener);
  }

  /** Hands on what the programme sends, from its next keyframe on. */
  follow(follower: ProgrammeFollower): () => void {
    this.#followers.add(follower);
    if (this.#tracks) follower.configure(this.#tracks);
    return () => this.#followers.delete(follower);
  }

  /** Follows a source; `null` for none. */
  setSource(sourceId: string | null, connection: SourceConnection | undefined): void {
    this.#stopListening();
    this.#stopListening = () => undefined;
    this.#sourceId = sourceId;
    const { player } = this.#film;
    if (!player && this.#packager.isRunning) this.sourceWent();
    if (!connection || !isRunning(this.#life)) return;
    this.#comesLate = connection.comesLate;
    this.#stopListening = connection.listen(
      player ? new AtTheDoor(player, (frame, tracks) => this.#letIn(connection, frame, tracks)) : this,
    );
  }

  /** Plays a film in place of the source, which waits meanwhile. What was there before is nothing for viewers. */
  async startFilm(player: FilmPlayer, connection: SourceConnection | undefined): Promise<void> {
    if (this.#packager.isRunning) this.sourceWent();
    if (this.#film.actual === null)
      this.#visible.airAtMs = Math.max(this.#time.nowMs, this.#visible.keptUntilMs);
    this.#film.begin(player);
    this.setSource(this.#sourceId, connection);
    player.connection.listen(this);
    await this.#remember();
  }

  /** A film is over, however that came; the source comes in with its next keyframe. */
  async filmOver(player: FilmPlayer, connection: SourceConnection | undefined): Promise<void> {
    // Taken down with us, it goes on when we are back.
    if (this.#isClosed) return;
    if (this.#film.over(player)) this.setSource(this.#sourceId, connection);
    await this.#remember();
  }

  stopFilm(): void {
    this.#film.player?.stop();
  }

  /** As good as over, a film makes way for the source's keyframe: nobody sees a gap. */
  #letIn(connection: SourceConnection, frame: SourceVideoFrame, tracks: Tracks): void {
    this.#film.end();
    this.setSource(this.#sourceId, connection);
    this.videoFrame(frame, tracks);
  }

  setRewindWindow(rewindWindowMs: number): void {
    this.#rewindWindowMs = rewindWindowMs;
    this.#listKept();
  }

  /** Nearly full: recording stops, live goes on, and both beginnings and ends are told. */
  setDisk(disk: DiskState): void {
    this.#recorder.setDisk(disk);
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
      this.setSource(this.#sourceId, connection);
    }
    if ('airAtMs' in life) this.#visible.airAtMs ??= this.#time.at(life.airAtMs);
    if (life.state === 'kept' && before.state !== 'kept') this.#finish(life.endAtMs);
    await this.#remember();
    this.#tellRecording();
    if (life === before || life.state === before.state) return;
    this.observe({
      kind: 'programme-moved',
      programmeId: this.identity.programmeId,
      life,
      atMs: this.clock.nowMs(),
    });
    if (life.state === 'kept') {
      await this.folder.settled();
      this.reportRecording();
    }
    this.#tellChanged();
  }

  videoFrame(frame: SourceVideoFrame, tracks: Tracks): void {
    this.#picture.frameCame();
    // Other sound waits for the next keyframe; the picture goes on until then.
    const isRunning = this.#packager.isRunning && this.#tracks !== null;
    if (isRunning && (this.#tracks === tracks || (!frame.isKeyframe && this.#packager.continues(tracks)))) {
      const outputs = this.#packager.video(frame);
      if (outputs !== 'clock-step') {
        this.#picture.become(true);
        this.#emit(outputs);
        this.#sendVideo(frame);
        return;
      }
      this.#tracks = null; // begins anew at the next keyframe
    }
    if (!frame.isKeyframe) return;
    this.#beginRun(tracks, this.#packager.begin(tracks, frame, this.#time.nowMs));
    this.#sendVideo(frame);
  }

  audioFrame(frame: SourceAudioFrame, tracks: Tracks): void {
    if (isSoundAlone(tracks)) {
      this.#picture.frameCame();
      if (!this.#packager.isRunning || this.#tracks !== tracks) return this.#beginSound(tracks, frame);
    } else if (!this.#packager.isRunning || !this.#tracks || this.#tracks.audio !== tracks.audio) return;
    const outputs = this.#packager.audio(frame);
    if (outputs === 'clock-step') return isSoundAlone(tracks) ? this.#beginSound(tracks, frame) : undefined;
    this.#emit(outputs);
    this.#sendAudio(frame);
  }

  sourceWent(): void {
    this.#tracks = null;
    this.#picture.become(false);
    this.#emit(this.#packager.end());
  }

  /** Notices a picture that stands still: no frame for 3 s is no signal, even on an open connection. */
  tick(): void {
    if (!this.#packager.isRunning || this.#picture.silentMs < SIGNAL_GONE_AFTER_MS) return;
    if (this.#comesLate) this.#picture.become(false);
    else this.sourceWent();
  }

  startDestination({ destinationId, address }: DesiredDestination): void {
    const sender = new DestinationSender(address, this.clock);
    this.#senders.set(destinationId, sender);
    if (this.#tracks) sender.configure(this.#tracks);
  }

  async stopDestination(destinationId: string): Promise<void> {
    const sender = this.#senders.get(destinationId);
    this.#senders.delete(destinationId);
    await sender?.stop();
  }

  actual(): ActualProgramme {
    return {
      programmeId: this.identity.programmeId,
      life: this.#life,
      sourceId: this.#sourceId,
      lastCommandId: this.#lastCommandId,
      rewindWindowMs: this.#rewindWindowMs,
      film: this.#film.actual,
      signal: this.#picture.knowledge,
      destinations: [...this.#senders].map(([destinationId, { address }]) => ({ destinationId, address })),
    };
  }

  figures(): ProgrammeFigures {
    return {
      programmeId: this.identity.programmeId,
      state: this.#life.state,
      signal: this.#picture.state,
      filmLeftMs: this.#film.player?.leftMs ?? null,
      viewers: this.viewers.count(this.clock.monotonicMs()),
      keptMs: this.#visible.keptMs,
      recordingStopped: this.#recorder.stopped,
      destinations: [...this.#senders].map(([destinationId, { state }]) => ({ destinationId, state })),
    };
  }

  async close(): Promise<void> {
    this.#isClosed = true;
    this.#stopListening();
    this.#film.end();
    this.#emit(this.#packager.end());
    await Promise.all([...this.#senders.keys()].map((id) => this.stopDestination(id)));
    await this.folder.settled();
  }

  #finish(endAtMs: number): void {
    this.#visible.endAtMs = this.#time.at(endAtMs);
    this.#film.end();
    this.#stopListening();
    this.#stopListening = () => undefined;
    this.#tracks = null;
    this.#picture.become(false);
    this.#emit(this.#packager.end());
    this.#visible.close();
  }

  /** Tells how much of it is kept. */
  reportRecording(): void {
    const segments = this.replaySegments ?? [];
    this.observe({
      kind: 'recording-kept',
      programmeId: this.identity.programmeId,
      durationMs: playingMs(segments),
      sizeBytes: segments.reduce((sum, segment) => sum + segment.sizeBytes, 0),
      atMs: this.clock.nowMs(),
    });
  }

  #emit(outputs: readonly PackagerOutput[]): void {
    if (outputs.length === 0) return;
    for (const output of outputs) {
      this.#visible.advance(output, this.#rewindMs);
      if (output.type === 'init') this.folder.writeInit(output.number, output.bytes);
      if (output.type === 'segment-begun') this.#recorder.begin(output);
      if (output.type === 'part') {
        this.memory.keep(output.part);
        this.#recorder.part(output.part);
      }
      if (output.type === 'segment') {
        const bytes = this.memory.close(output.segment.sequence);
        const indexed = this.#recorder.close(output.segment, bytes.byteLength);
        if (indexed) this.#visible.segments.push(indexed);
      }
    }
    this.#tellChanged();
  }

  #beginRun(tracks: Tracks, outputs: readonly PackagerOutput[]): void {
    this.#tracks = tracks;
    this.#picture.become(true);
    this.#emit(outputs);
    for (const taker of this.#takers()) taker.configure(tracks);
  }

  #beginSound(tracks: SoundAlone, frame: SourceAudioFrame): void {
    this.#beginRun(tracks, this.#packager.beginSound(tracks, frame, this.#time.nowMs));
    this.#sendAudio(frame);
  }

  #sendAudio(frame: SourceAudioFrame): void {
    const atMs = this.#packager.programmeMsOf(frame.decodeMs);
    for (const taker of this.#takers()) taker.audio(atMs, frame);
  }

  #sendVideo(frame: SourceVideoFrame): void {
    const atMs = this.#packager.programmeMsOf(frame.decodeMs);
    for (const taker of this.#takers()) taker.video(atMs, frame);
  }

  /** Its places, and whatever else shows it. */
  *#takers(): Generator<ProgrammeFollower> {
    yield* this.#senders.values();
    yield* this.#followers;
  }

  #tellRecording(): void {
    const now = this.#recorder.stopped;
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

  /** What is not recorded cannot be rewound to. */
  get #rewindMs(): number {
    return this.#recorder.stopped === 'disk-full' ? 0 : this.#rewindWindowMs;
  }

  #remember(): Promise<void> {
    return this.folder.writeFacts({
      ...this.identity,
      life: this.#life,
      lastCommandId: this.#lastCommandId,
      airAtProgrammeMs: this.#visible.airAtMs,
      endAtProgrammeMs: this.#visible.endAtMs,
      leg: this.#leg,
      film: this.#film.actual,
    });
  }

  #tellChanged(): void {
    for (const listener of this.#changed) listener();
  }
}

type SoundAlone = Tracks & { readonly video: null };
const isSoundAlone = (tracks: Tracks): tracks is SoundAlone => tracks.video === null;

const isRunning = (life: EventLife): boolean => life.state === 'doors' || life.state === 'air';
