import type { EventLife } from '../schedule/event-life.js';

/** A film of the house that a programme begins with. */
export interface DesiredFilm {
  readonly fileId: string;
  readonly sizeBytes: number;
  readonly durationMs: number;
  /** Nothing comes after it: it begins however late, and the programme ends with it. */
  readonly standsAlone: boolean;
}

/** `broken-off`: the node fell while it played. */
export interface ActualFilm {
  readonly fileId: string;
  readonly state: 'playing' | 'broken-off' | 'over';
}

/** A film that could not begin within this is left out: it must not push the service aside in the middle. */
export const FILM_BEGINS_WITHIN_MS = 5000;
/** A programme that was a film ends so long after it. */
export const AFTER_FILM_MS = 3000;
/** For the last moment of a film nobody begins it again. */
const LAST_MOMENT_MS = 500;

export type FilmStep =
  { readonly type: 'start'; readonly offsetMs: number } | { readonly type: 'stop' } | null;

/**
 * What is to be done about a programme's film: it begins with air, once; broken off by a fault of ours it goes on where
 * it would be by now; taken away, it stops.
 * @param isHere - whether the node has the film on its disk.
 */
export function filmStep(
  film: DesiredFilm | null,
  is: ActualFilm | null,
  life: EventLife,
  isHere: boolean,
  nowMs: number,
): FilmStep {
  const isWanted = film !== null && life.state === 'air';
  if (is?.state === 'playing' && (!isWanted || is.fileId !== film.fileId)) return { type: 'stop' };
  if (!isWanted || !isHere || is?.state === 'playing' || is?.state === 'over') return null;
  const offsetMs = Math.max(0, nowMs - life.airAtMs);
  const mayBegin = is?.state === 'broken-off' || film.standsAlone || offsetMs <= FILM_BEGINS_WITHIN_MS;
  return mayBegin && offsetMs < film.durationMs - LAST_MOMENT_MS ? { type: 'start', offsetMs } : null;
}
