export const FIRST_STEPS = ['look', 'source', 'event', 'website', 'help'] as const;
export type FirstStep = (typeof FIRST_STEPS)[number];

/** What a new house has to do before its first service; found out, never ticked: `GET /api/house/first-service`. */
export interface FirstServiceView {
  readonly done: readonly FirstStep[];
  /** A source that is there and has not sent yet; its name. */
  readonly silentSource: string | null;
  /** What to put on the website: the address of a channel, a series or an event; `null` while there is none. */
  readonly slug: string | null;
  /** The website on which the page was first seen. */
  readonly siteHost: string | null;
  /** Somebody who was invited and has not come yet. */
  readonly invited: string | null;
}
