/** What was posted to the board. */
export interface Notice {
  readonly atMs: number;
  readonly text: string;
}

const MOST_KEPT = 100;

/** A receiver for webhooks that takes everything and shows it, or answers as it is told to. */
export class NoticeBoard {
  #notices: readonly Notice[] = [];
  /** The status that it answers; people try out what happens when it refuses. */
  status = 204;

  get notices(): readonly Notice[] {
    return this.#notices;
  }

  take(text: string): number {
    if (this.status < 300)
      this.#notices = [...this.#notices.slice(1 - MOST_KEPT), { atMs: Date.now(), text }];
    return this.status;
  }
}
