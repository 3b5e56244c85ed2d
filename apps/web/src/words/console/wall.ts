import type { Filled } from '../filled.js';

/** What is said on the wall. en-GB. */
export const WALL_TEXT = {
  allOnAir: 'All that is on air',
  nothingIsOnAir: 'Nothing is on air.',
  nextIs: (title: Filled, time: Filled) => `Next: ${title}, ${time}.`,
  watching: (viewers: Filled) => `${viewers} watching`,
  opensIn: (time: Filled) => `doors open, ${time} to air`,
  noNews: 'The server is not responding. What you see may be old.',
  backToTheWeek: 'Back to the week',
} as const;
