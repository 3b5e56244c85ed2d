import type { ActualFilm } from '../control/film.js';
import { type Frame, isPicture } from './frame.js';

/** So near its end a film makes way for the source. */
const MAKES_WAY_MS = 1000;

/** What may feed a programme's timeline, and what does. */
export interface ProgrammeInput {
  readonly sourceId: string | null;
  /** The film it begins with; `null` before any has begun. */
  readonly film: ActualFilm | null;
  /** When the film that plays will be over, on the monotone clock; `null` while none plays. */
  readonly filmEndsAtMs: number | null;
}

export const NO_INPUT: ProgrammeInput = { sourceId: null, film: null, filmEndsAtMs: null };

export type InputEvent =
  | { readonly type: 'source-chosen'; readonly sourceId: string | null }
  | { readonly type: 'film-began'; readonly fileId: string; readonly endsAtMs: number }
  /** It has played to its end, was taken off, or could not be played. */
  | { readonly type: 'film-over' }
  /** The node fell while it played, or another node takes over. */
  | { readonly type: 'taken-up'; readonly film: ActualFilm | null };

export function nextInput(input: ProgrammeInput, event: InputEvent): ProgrammeInput {
  switch (event.type) {
    case 'source-chosen':
      return { ...input, sourceId: event.sourceId };
    case 'film-began':
      return { ...input, film: { fileId: event.fileId, state: 'playing' }, filmEndsAtMs: event.endsAtMs };
    case 'film-over':
      return { ...input, film: input.film && { ...input.film, state: 'over' }, filmEndsAtMs: null };
    case 'taken-up': {
      const { film } = event;
      // What was over stays over; what played has broken off.
      return {
        ...input,
        film: film?.state === 'playing' ? { ...film, state: 'broken-off' } : film,
        filmEndsAtMs: null,
      };
    }
  }
}

/** Whether a film plays in place of the source. */
export const playsFilm = ({ filmEndsAtMs }: ProgrammeInput): boolean => filmEndsAtMs !== null;

/** `hand-over`: the source takes over from the film with this frame, and nobody sees a gap. */
export type Admission = 'take' | 'pass-over' | 'hand-over';

/**
 * Whether a frame of the source feeds the timeline. It waits while a film plays, until the film is as good as over, and
 * comes in with a keyframe. Sound alone waits for the film's own end.
 * @param nowMs - on the monotone clock.
 */
export function admit({ filmEndsAtMs }: ProgrammeInput, frame: Frame, nowMs: number): Admission {
  if (filmEndsAtMs === null) return 'take';
  const isNearlyOver = filmEndsAtMs - nowMs <= MAKES_WAY_MS;
  return isNearlyOver && isPicture(frame) && frame.isKeyframe ? 'hand-over' : 'pass-over';
}
