import type { Complaint, ViewerFinding } from '@heliphon/contracts/viewer-reports';
import type { Filled } from '../filled.js';

/** What viewers told of missing picture or sound. en-GB. */
export const VIEWER_REPORTS_TEXT = {
  viewersTell: 'What viewers tell us',
  lately: (count: number, what: Filled) =>
    count === 1 ? `One viewer tells us: ${what}.` : `${count} viewers tell us: ${what}.`,
  latest: (when: Filled) => `The latest at ${when}.`,
  readThem: 'Read what they tell',
  none: 'No viewer told us of anything.',
  foundAt: (what: Filled, device: Filled) => `We found: ${what} (${device}).`,
  theirPlayer: 'What their player did',
} as const;

export const COMPLAINT_WORDS: Readonly<Record<Complaint, string>> = {
  picture: 'no picture',
  sound: 'no sound',
};

export const FOUND_WORDS: Readonly<Record<ViewerFinding, string>> = {
  'not-started': 'it had not started yet',
  cancelled: 'it does not take place',
  'no-connection': 'their device could not reach us',
  'no-picture': 'there was no picture',
  'picture-away': 'our picture was away',
  'media-away': 'our picture did not arrive',
  muted: 'their player was muted',
  'device-silent': 'sound was playing; their device was silent',
  'sound-only': 'they had chosen sound only',
  slow: 'their line was too slow',
  paused: 'their player was paused',
  fine: 'picture and sound were arriving',
};
