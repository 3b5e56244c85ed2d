interface InitName {
  readonly relurl?: string | undefined;
}

/** What a playlist says of its segments, as hls.js has read it; positions in seconds of the player's own time line. */
export interface PlaylistDates {
  readonly fragments: readonly {
    readonly start: number;
    readonly duration: number;
    readonly programDateTime: number | null;
    readonly initSegment: InitName | null;
  }[];
}

/** Where a date stands on the time line of a playlist, in seconds; `null` while there is none. */
export function positionAt(details: PlaylistDates | null, date: Date): number | null {
  const atMs = date.getTime();
  const fragments = details?.fragments ?? [];
  const found =
    fragments.findLast(({ programDateTime }) => (programDateTime ?? Infinity) <= atMs) ?? fragments[0];
  if (!found) return null;
  // A date at which nothing came is where it goes on.
  const intoSeconds = (atMs - (found.programDateTime ?? atMs)) / 1000;
  return found.start + Math.min(found.duration, Math.max(0, intoSeconds));
}

/** The date that stands at a position of the time line, in seconds; `null` while nobody knows. */
export function dateAt(details: PlaylistDates | null, positionSeconds: number): Date | null {
  const fragments = details?.fragments ?? [];
  const found = fragments.findLast(({ start }) => start <= positionSeconds) ?? fragments[0];
  if (typeof found?.programDateTime !== 'number') return null;
  return new Date(found.programDateTime + (positionSeconds - found.start) * 1000);
}

/** How far from the beginning of a playlist a date stands, in seconds; `null` while there is none. */
export function offsetAt(details: PlaylistDates | null, date: Date): number | null {
  const seconds = positionAt(details, date);
  return seconds === null ? null : seconds - details!.fragments[0]!.start;
}

/** From where to where a playlist reaches; `null` while there is none. */
export function reachOf(
  details: PlaylistDates | null,
): readonly [startSeconds: number, endSeconds: number] | null {
  const [first] = details?.fragments ?? [];
  const last = details?.fragments.at(-1);
  return first && last ? [first.start, last.start + last.duration] : null;
}

/** A place at the very beginning of a segment may be taken for the end of the one before. */
const INSIDE_SECONDS = 0.3;

/** From where on what belongs to an init segment can be played, at or behind a position; `null` where it cannot. */
export function firstDateOf(details: PlaylistDates, init: InitName, positionSeconds: number): Date | null {
  const first = details.fragments.find(
    ({ initSegment, start, duration }) =>
      initSegment?.relurl === init.relurl && start + duration > positionSeconds,
  );
  if (typeof first?.programDateTime !== 'number') return null;
  return new Date(first.programDateTime + Math.max(INSIDE_SECONDS, positionSeconds - first.start) * 1000);
}
