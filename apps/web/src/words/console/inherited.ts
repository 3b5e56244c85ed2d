import type { Level } from '@heliphon/core/inherited';
import type { Filled } from '../filled.js';

/** What is said of what comes down from house, channel and series. en-GB. */
export const INHERITED_TEXT = {
  again: (from: Filled) => `${from} again`,
  partAgain: (what: Filled, from: Filled) => `${what}: ${from} again`,
} as const;

export const FROM_WORDS: Readonly<Record<Level | 'usual', string>> = {
  usual: 'as usual',
  house: 'from the house',
  channel: 'from the channel',
  series: 'from the series',
  event: 'from the event',
};
