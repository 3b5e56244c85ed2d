/** `POST /api/events/:id/clips`: keeps what has just been shown as a separate recording. */
export interface SaveClip {
  /** How much of it. */
  readonly seconds: number;
}
