import type { Filled } from '../filled.js';

/** What is said in the console, order. en-GB. */
export const ORDER_TEXT = {
  orderSheet: 'Order sheet',
  theOrder: 'the order',
  theOrderOfTheSeries: 'the order of the series',
  whichDates: 'Which dates',
  thisOrderIsJustFor: 'This order is just for this date.',
  goBackToTheSeries: 'Go back to the series’ order',
  useItForAllDates: 'Use it for all dates',
  theOrderAsText: 'The order, as text',
  startEachItemWithIts:
    'Start each item with its time; put the words to follow underneath. You can paste it in. An item without a time starts with #.',
  saveTheOrder: 'Save the order',
  notSavedYet: 'Not saved yet.',
  savedViewersSeeItLike: 'Saved. Viewers see it like this now.',
  twoVersions: 'Two versions',
  somebodyElseHasSavedThis:
    'Somebody else has saved this order in the meantime. Yours is above and is not saved; this is theirs:',
  takeTheirs: 'Take theirs',
  keepMine: 'Keep mine',
  anOrderCanHaveUp: (most: Filled, length: Filled) =>
    `An order can have up to ${most} items; this has ${length}.`,
  isTooLongATitle: (slice: Filled, titleLength: Filled, wordsLength: Filled) =>
    `“${slice}” is too long: a title can have ${titleLength} characters and its words ${wordsLength}.`,
  allTheWordsTogetherCan: (wholeLength: Filled, whole: Filled) =>
    `All the words together can have ${wholeLength} characters; this has ${whole}.`,
  seeTheOrder: 'See the order',
  writeTheOrder: 'Write the order',
  oneItem: 'One item',
  fromTheSeries: ', from the series',
  whatHappensWhenWithThe: 'What happens when, with the words to follow, shown next to the picture.',
  whatPeopleSee: 'What people see',
  nothingYetWhatYouWrite:
    'Nothing yet. What you write on the left appears next to the picture: the current item open, with its words, moving on by itself.',
  thisIsTheSeries: 'This is {order}. What you save here is just for this date.',
  ofEveryDate: 'of every date of {series}, except those with their own',
  example: `10:30 Bell and welcome
10:36 Hymn: The lamp upon the water
  The lamp upon the water
  is steady though it sways;
10:44 The blessing of the boats`,
  ofEvent: 'of {event}',
  items: (count: Filled) => `${count} items`,
} as const;
