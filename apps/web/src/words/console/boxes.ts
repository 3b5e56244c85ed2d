import type { Filled } from '../filled.js';

/** What is said in the console, boxes. en-GB. */
export const BOXES_TEXT = {
  boxes: 'Boxes',
  notConnectedYet: 'not connected yet',
  awaySince: (when: Filled) => `away since ${when}`,
  aDeletedSource: 'a deleted source',
  renameOrDisconnect: 'Rename or disconnect',
  theBoxHasBeenRenamed: 'The box has been renamed.',
  nameOfTheBox: 'Name of the box',
  rename: 'Rename',
  sourceForItsPicture: 'Source for its picture',
  disconnectingCutsItOffAt:
    'Disconnecting cuts it off at once and renews its key. The box then shows a new code.',
  disconnectTheBoxHold: 'Disconnect the box: hold',
  codeOnTheBoxsScreen: 'Code on the box’s screen',
  eightLettersSwitchTheBox: 'Eight letters; switch the box on if you cannot see them',
  whereItIsForExample: 'Where it is, for example Tower',
  aNewSourceOfThe: 'A new source of the same name',
  pairTheBox: 'Pair the box',
  cancel: 'Cancel',
  modelFor: (model: Filled, source: Filled) => `${model}, for ${source}`,
} as const;
