import type { Filled } from './filled.js';

/** What is said by player. en-GB. */
export const PLAYER_TEXT = {
  turnTheSoundOn: 'Turn the sound on',
  startThePicture: 'Start the picture',
  loadingThePicture: 'Loading the picture …',
  soundOnlyAsYouChose: 'Sound only, as you chose. It helps on a slow connection.',
  thePictureWillBeBack: 'The picture will be back.',
  weHaveLostThePicture: 'We have lost the picture and are getting it back.',
  back10S: 'Back 10 s',
  soundIsOff: 'Sound is off',
  loudness: 'Loudness',
  perCent: (value: Filled) => `${value} per cent`,
  captionsAreOff: 'Captions are off',
  smallWindow: 'Small window',
  fillTheScreen: 'Fill the screen',
  chapters: 'Chapters',
  quality: 'Quality',
  qualityAutomatic: 'Quality: automatic',
  pictureAndSound: 'Picture and sound',
  soundOnly: 'Sound only',
  behindNow: (late: Filled) => `${late} behind now`,
  whereYouAre: 'Where you are',
  nothingYouNeedToDo: 'There is nothing you need to do. It will carry on by itself.',
  youAreLate: (late: Filled) => `You are ${late} late. Go to now`,
} as const;
