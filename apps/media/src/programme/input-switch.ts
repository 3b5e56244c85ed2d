import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { ActualFilm } from '@heliphon/core/control/film';
import type { Frame } from '@heliphon/core/media/frame';
import { admit, nextInput, NO_INPUT, playsFilm } from '@heliphon/core/media/programme-input';
import type { Tracks } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import type { FilmPlayer } from '../films/film-player.js';
import type { SourceConnection } from '../ingest/source-connection.js';
import type { GapWatch } from './gap-watch.js';

const NOT_LISTENING = (): void => undefined;

/** Listens to what feeds a programme: its source, or the film that it begins with. */
export class InputSwitch {
  #input = NO_INPUT;
  #player: FilmPlayer | null = null;
  #stopListening = NOT_LISTENING;
  #isConnected = false;
  #comesLate = false;

  /** @param gaps - gets the frames that are to go out, and hears when what feeds the programme went. */
  constructor(
    private readonly clock: Clock,
    private readonly gaps: GapWatch,
  ) {}

  get sourceId(): string | null {
    return this.#input.sourceId;
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
    return this.#comesLate;
  }

  takeUp(film: ActualFilm | null): void {
    this.#input = nextInput(this.#input, { type: 'taken-up', film });
  }

  /** @param connection - of the source, where it is listened to. */
  choose(sourceId: string | null, connection: SourceConnection | undefined): void {
    const isOther = sourceId !== this.#input.sourceId;
    this.#input = nextInput(this.#input, { type: 'source-chosen', sourceId });
    this.#take(connection);
    if (!playsFilm(this.#input)) this.gaps.chosen(this.#isConnected, isOther);
  }

  /** The programme begins. @param connection - of its source. */
  listen(connection: SourceConnection | undefined): void {
    this.#take(connection);
    this.gaps.chosen(this.#isConnected, true);
  }

  stopListening(): void {
    this.#stopListening();
    this.#stopListening = NOT_LISTENING;
    this.#isConnected = false;
  }

  /** Plays a film in place of the source, which waits meanwhile. */
  begin(player: FilmPlayer): void {
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
    this.gaps.chosen(this.#isConnected, true);
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

  #take(connection: SourceConnection | undefined): void {
    this.stopListening();
    if (!connection) return;
    this.#isConnected = true;
    this.#comesLate = connection.comesLate;
    this.#stopListening = connection.listen({
      frame: (frame, tracks, lateMs) => this.#fromSource(frame, tracks, lateMs),
      sourceWent: () => {
        this.#isConnected = false;
        if (!playsFilm(this.#input)) this.gaps.sourceWent();
      },
    });
  }

  #fromSource(frame: Frame, tracks: Tracks, lateMs: number): void {
    const admission = admit(this.#input, frame, this.clock.monotonicMs());
    if (admission === 'pass-over') return;
    if (admission === 'hand-over') this.#endFilm();
    this.gaps.frame(frame, tracks, lateMs);
  }

  #endFilm(): void {
    const player = this.#player;
    if (!player) return;
    this.filmOver(player);
    player.stop();
  }
}
