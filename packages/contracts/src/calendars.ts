/** Somebody's own calendar address: what a calendar program asks again and again. A secret, like a key. */
export interface OwnCalendar {
  /** `null` until it has been asked for. */
  readonly address: string | null;
}
