import type { Filled } from '../filled.js';

/** What is said of clips. en-GB. */
export const CLIP_TEXT = {
  saveTheLast: (length: Filled) => `Save the last ${length}`,
  saveTheLastOf: 'Save the last',
  howMuch: 'How much is saved',
  isSaved: (title: Filled) => `Saved: ${title}.`,
  lookAtIt: 'Watch it',
  couldNotBeSaved: 'Nothing was saved: there was no picture in that time.',
  clips: 'Clips',
  clip: 'clip',
  noClips: 'Nobody has saved a clip. At the desk, press S to save what has just been shown.',
  beingMade: 'being saved …',
  openItsPage: 'Open its page',
  download: 'Download',
  renameIt: 'Change it in the archive',
  addressOfItsPage: 'Address of its page: only those you give it to will find it',
  theAddressOf: (title: Filled) => `the address of “${title}”`,
} as const;
