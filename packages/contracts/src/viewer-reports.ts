/** What explains a missing picture or sound, as far as the viewer's page could find out. */
export const VIEWER_FINDINGS = [
  'not-started',
  'cancelled',
  'no-connection',
  'no-picture',
  'picture-away',
  'media-away',
  'muted',
  'device-silent',
  'sound-only',
  'slow',
  'paused',
  'fine',
] as const;
export type ViewerFinding = (typeof VIEWER_FINDINGS)[number];
export type Complaint = 'picture' | 'sound';

/** How the player stood from an instant on. */
export interface PlayerMoment {
  readonly atMs: number;
  readonly status: string;
  /** Behind the live edge, in whole seconds. */
  readonly lateSeconds: number;
  readonly isMuted: boolean;
}

export const PLAYER_MOMENTS = 60;

/** What a viewer tells the house: what is missing, what was found, and what the player did. Nothing of who they are. */
export interface TellOfTrouble {
  readonly complaint: Complaint;
  readonly finding: ViewerFinding;
  readonly moments: readonly PlayerMoment[];
}

export interface ViewerReportView extends TellOfTrouble {
  readonly id: string;
  readonly atMs: number;
  /** The kind of browser, in words; whose it is nobody knows. */
  readonly device: string;
}
