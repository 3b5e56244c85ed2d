const MINUTE_MS = 60_000;

/** What stands at a place of a programme. */
export interface LookedAt {
  readonly dateMs: number;
  /** Of the clock, since 1970 in UTC. */
  readonly minute: number;
  /** The address of a small picture of that minute; not each has one. */
  readonly picture: string;
}

/** @param hls - address of a playlist of the programme: its pictures lie beside it */
export function lookedAt(hls: string, dateMs: number): LookedAt {
  const minute = Math.floor(dateMs / MINUTE_MS);
  return { dateMs, minute, picture: hls.replace(/[^/]*$/, `picture-${minute}.jpg`) };
}
