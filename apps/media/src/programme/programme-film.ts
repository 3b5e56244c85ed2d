import type { ActualFilm } from '@heliphon/core/control/film';
import type { FilmPlayer } from '../films/film-player.js';

/** The film that a programme begins with: how far it has come, and what plays it. */
export class ProgrammeFilm {
  #film: ActualFilm | null = null;
  #player: FilmPlayer | null = null;

  /** `null` before any has begun. */
  get actual(): ActualFilm | null {
    return this.#film;
  }

  /** `null` while none plays. */
  get player(): FilmPlayer | null {
    return this.#player;
  }

  /** As it was when a node fell: what played has broken off, what was over stays over. */
  takeUp(film: ActualFilm | null): void {
    this.#film = film?.state === 'playing' ? { ...film, state: 'broken-off' } : film;
  }

  begin(player: FilmPlayer): void {
    this.#player = player;
    this.#film = { fileId: player.fileId, state: 'playing' };
  }

  /** @returns whether it was this one that played. */
  over(player: FilmPlayer): boolean {
    if (this.#film?.fileId === player.fileId) this.#film = { ...this.#film, state: 'over' };
    if (this.#player !== player) return false;
    this.end();
    return true;
  }

  /** Takes it off, wherever it is; nothing where none plays. */
  end(): void {
    const player = this.#player;
    this.#player = null;
    player?.connection.went();
    player?.stop();
  }
}
