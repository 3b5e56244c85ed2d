import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { ActualFilm } from '@heliphon/core/control/film';
import type { DesiredStandby } from '@heliphon/core/control/desired-state';
import { countsAsPicture } from '@heliphon/core/media/continuity';
import type { Frame } from '@heliphon/core/media/frame';
import { admit, nextInput, NO_INPUT, playsFilm } from '@heliphon/core/media/programme-input';
import {
  ABSENT,
  afterPictureOf,
  type Choosing,
  isSilent,
  shouldTakeOver,
  type SourcePresence,
} from '@heliphon/core/media/source-choice';
import type { Tracks } from '@heliphon/core/media/track';
import { WaitingPictures } from '@heliphon/core/media/waiting-pictures';
import type { Clock } from '../clock.js';
import type { FilmPlayer } from '../films/film-player.js';
import type { SourceConnection } from '../ingest/source-connection.js';
import type { GapWatch } from './gap-watch.js';

const NOT_LISTENING = (): void => undefined;

/** A source whose last picture is no older than this is sending. */
const SENDS_MS = 500;

/** A source that is listened to, whether or not it feeds the programme. */
interface Listened {
  readonly stop: () => void;
  readonly comesLate: boolean;
  presence: SourcePresence;
  /** While it does not feed the programme. */
  waiting: WaitingPictures;
}
/** One source has taken over from the other. */
interface Turn {
  readonly toId: string;
  /** On the monotone clock. */
  readonly atMs: number;
  readonly isByHand: boolean;
}
const UNHEARD: Listened = {
  stop: NOT_LISTENING,
  comesLate: false,
  presence: ABSENT,
  waiting: new WaitingPictures(),
};

/** Listens to what may feed a programme, and lets one through: its source, the one that stands by, or the film it begins with. */
export class InputSwitch {
  #input = NO_INPUT;
  #sourceId: string | null = null;
  #standby: DesiredStandby | null = null;
  readonly #listened = new Map<string, Listened>();
  /** The preference was changed by hand: the other source takes over at its next keyframe. */
  #isHurried = false;
  #turn: Turn | null = null;
  #player: FilmPlayer | null = null;

  /** @param gaps - gets the frames that are to go out, and hears when what feeds the programme went. */
  constructor(
    private readonly clock: Clock,
    private readonly gaps: GapWatch,
  ) {}

  /** The first source, whichever feeds it. */
  get sourceId(): string | null {
    return this.#sourceId;
  }

  get standby(): DesiredStandby | null {
    return this.#standby;
  }

  /** The source that feeds the programme now, or will. */
  get feedingId(): string | null {
    return this.#input.sourceId;
  }

  /** The last time that one source took over from the other. */
  get turn(): Turn | null {
    return this.#turn;
  }

  /** `null` before any has begun. */
  get film(): ActualFilm | null {
    return this.#input.film;
  }

  /** What feeds the programme whenever anything does; `null` without a source. */
  get feed(): ViewersHave | null {
    const { sourceId, film } = this.#input;
    if (film && playsFilm(this.#input)) return { kind: 'film', fileId: film.fileId };
    return sourceId === null ? null : { kind: 'picture', sourceId };
  }

  /** `null` while no film plays. */
  get filmLeftMs(): number | null {
    return this.#player?.leftMs ?? null;
  }

  /** What the source could not send for a while still comes, and belongs where it was. */
  get comesLate(): boolean {
    return this.#feeding.comesLate;
  }

  takeUp(film: ActualFilm | null): void {
    this.#input = nextInput(this.#input, { type: 'taken-up', film });
  }

  /** @param connectionOf - of a source, where it is to be listened to. */
  choose(
    sourceId: string | null,
    standby: DesiredStandby | null,
    connectionOf: (sourceId: string) => SourceConnection | undefined,
  ): void {
    const wasPreferred = this.#preferredId;
    this.#sourceId = sourceId;
    this.#standby = standby;
    for (const [id, { stop }] of this.#listened)
      if (!this.#isOurs(id)) {
        stop();
        this.#listened.delete(id);
      }
    this.#listenToOurs(connectionOf);
    const feedingId = this.#input.sourceId;
    // What feeds it goes on until the other has a picture to begin with.
    if (feedingId !== null && this.#isOurs(feedingId)) {
      this.#isHurried = this.#preferredId !== wasPreferred || this.#isHurried;
      if (this.#preferredId === feedingId) this.#isHurried = false;
      return;
    }
    this.#feedFrom(this.#preferredId);
    if (!playsFilm(this.#input)) this.gaps.chosen(this.#isFeedingHere, true);
  }

  /** One of its sources has come, for the first time or again. */
  connected(connection: SourceConnection): void {
    if (!this.#isOurs(connection.sourceId)) return;
    this.#listen(connection);
    if (connection.sourceId === this.#input.sourceId && !playsFilm(this.#input))
      this.gaps.chosen(true, false);
  }

  /** The programme begins. */
  begin(connectionOf: (sourceId: string) => SourceConnection | undefined): void {
    this.#listenToOurs(connectionOf);
    this.gaps.chosen(this.#isFeedingHere, true);
  }

  stopListening(): void {
    for (const { stop } of this.#listened.values()) stop();
    this.#listened.clear();
  }

  /** Plays a film in place of the source, which waits meanwhile. */
  beginFilm(player: FilmPlayer): void {
    this.#player = player;
    const endsAtMs = this.clock.monotonicMs() + player.leftMs;
    this.#input = nextInput(this.#input, { type: 'film-began', fileId: player.fileId, endsAtMs });
    this.gaps.replaced();
    player.connection.listen({
      frame: (frame, tracks, lateMs) => {
        if (this.#player === player) this.gaps.frame(frame, tracks, lateMs);
      },
      sourceWent: NOT_LISTENING,
    });
  }

  /** A film has played to its end, was stopped, or could not be played; the source comes in with its next keyframe. */
  filmOver(player: FilmPlayer): void {
    if (this.#player !== player) return;
    this.#player = null;
    this.#input = nextInput(this.#input, { type: 'film-over' });
    this.gaps.chosen(this.#isFeedingHere, true);
  }

  /** Takes the film off; nothing where none plays. */
  stopFilm(): void {
    this.#player?.stop();
  }

  /** The programme is over. */
  finish(): void {
    this.stopListening();
    this.#endFilm();
  }

  /** Lets go of everything; a film that plays goes on where it would be by then. */
  close(): void {
    this.stopListening();
    this.#player?.stop();
    this.#player = null;
  }

  get #feeding(): Listened {
    return this.#listened.get(this.#input.sourceId ?? '') ?? UNHEARD;
  }

  get #isFeedingHere(): boolean {
    return this.#listened.has(this.#input.sourceId ?? '');
  }

  get #preferredId(): string | null {
    return this.#standby?.isPreferred ? this.#standby.sourceId : this.#sourceId;
  }

  #isOurs(sourceId: string): boolean {
    return sourceId === this.#sourceId || sourceId === this.#standby?.sourceId;
  }

  #feedFrom(sourceId: string | null): void {
    this.#input = nextInput(this.#input, { type: 'source-chosen', sourceId });
    this.#isHurried = false;
  }

  #listenToOurs(connectionOf: (sourceId: string) => SourceConnection | undefined): void {
    for (const id of [this.#sourceId, this.#standby?.sourceId ?? null]) {
      const connection = id !== null && !this.#listened.has(id) && connectionOf(id);
      if (connection) this.#listen(connection);
    }
  }

  #listen(connection: SourceConnection): void {
    const { sourceId, comesLate } = connection;
    this.#listened.get(sourceId)?.stop();
    const listened: Listened = {
      comesLate,
      presence: ABSENT,
      stop: connection.listen({
        frame: (frame, tracks, lateMs) => this.#fromSource(sourceId, frame, tracks, lateMs),
        sourceWent: () => {
          this.#listened.delete(sourceId);
          if (sourceId !== this.#input.sourceId || playsFilm(this.#input)) return;
          if (!this.#isCovered) this.gaps.sourceWent();
        },
      }),
      waiting: new WaitingPictures(),
    };
    this.#listened.set(sourceId, listened);
  }

  #fromSource(sourceId: string, frame: Frame, tracks: Tracks, lateMs: number): void {
    const listened = this.#listened.get(sourceId);
    if (!listened) return;
    const nowMs = this.clock.monotonicMs();
    if (countsAsPicture(frame, tracks)) listened.presence = afterPictureOf(listened.presence, nowMs);
    if (sourceId !== this.#input.sourceId) {
      listened.waiting.take({ frame, tracks, atMs: nowMs - lateMs });
      if (!countsAsPicture(frame, tracks) || this.#joins(sourceId, listened, nowMs)) return;
      if (!frame.isKeyframe || !this.#takesOver(sourceId, nowMs)) return;
    }
    const admission = admit(this.#input, frame, nowMs);
    if (admission === 'pass-over') return;
    if (admission === 'hand-over') this.#endFilm();
    this.gaps.frame(frame, tracks, lateMs);
  }

  /** A source that waits goes on where the other stopped, with the pictures that it has sent since. */
  #joins(sourceId: string, { waiting }: Listened, nowMs: number): boolean {
    const choosing = this.#choosing(sourceId);
    if (playsFilm(this.#input) || !isSilent(choosing, nowMs) || !shouldTakeOver(choosing, nowMs))
      return false;
    const { reachedAtMs } = this.gaps;
    const frames = reachedAtMs === null ? null : waiting.from(reachedAtMs);
    if (!frames) return false;
    this.#turnTo(sourceId, nowMs, false);
    this.gaps.joined(frames);
    return true;
  }

  /** Whether a source that waits comes in with the keyframe that it has now. */
  #takesOver(sourceId: string, nowMs: number): boolean {
    const choosing = this.#choosing(sourceId);
    if (!shouldTakeOver(choosing, nowMs)) return false;
    this.#turnTo(sourceId, nowMs, choosing.isHurried);
    if (!playsFilm(this.#input)) this.gaps.chosen(true, true);
    return true;
  }

  #turnTo(sourceId: string, atMs: number, isByHand: boolean): void {
    this.#turn = { toId: sourceId, atMs, isByHand };
    this.#feedFrom(sourceId);
    this.#listened.get(sourceId)!.waiting = new WaitingPictures();
  }

  #choosing(waitingId: string): Choosing {
    return {
      feeding: this.#feeding.presence,
      waiting: this.#listened.get(waitingId)?.presence ?? ABSENT,
      isWaitingPreferred: waitingId === this.#preferredId,
      isHurried: this.#isHurried && waitingId === this.#preferredId,
      afterMs: this.#standby?.afterMs ?? null,
    };
  }

  /** What feeds the programme has gone, and another source takes over with its next picture. */
  get #isCovered(): boolean {
    const nowMs = this.clock.monotonicMs();
    return [...this.#listened].some(
      ([id, { presence }]) =>
        nowMs - (presence.lastAtMs ?? -Infinity) < SENDS_MS && shouldTakeOver(this.#choosing(id), nowMs),
    );
  }

  #endFilm(): void {
    const player = this.#player;
    if (!player) return;
    this.filmOver(player);
    player.stop();
  }
}
