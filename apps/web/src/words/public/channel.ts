import type { Filled } from '../filled.js';

/** What is said on the public pages. en-GB. */
export const CHANNEL_TEXT = {
  nothingIsPlannedHereYet: 'Nothing is planned here yet. Please come back another day.',
  willNotTakePlace: (when: Filled) => `Will not take place: ${when}`,
  addAllOfItTo: 'Add all of it to my calendar',
  streamedWithHeliphon: 'Streamed with Heliphon',
  onAirNow: 'On air now',
  doorsAreOpenStartingAt: (time: Filled) => `Doors are open, starting at ${time}`,
  watchIt: 'Watch it',
  comeIn: 'Come in',
  showEarlierOnes: 'Show earlier ones',
  weCannotBeReachedAt: 'We cannot be reached at the moment. Please try again shortly.',
  channel: 'channel',
  watchAgain: 'Watch again',
} as const;
