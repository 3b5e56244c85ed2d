import type { Companion, LookColour } from '@heliphon/core/appearance/look';
import type { LookGround } from '@heliphon/core/appearance/look-check';
import type { TryOutState } from '@heliphon/contracts/try-out';
import type { Filled } from '../filled.js';

/** What is said where a look is made. en-GB. */
export const LOOK_TEXT = {
  lookOf: (name: Filled) => `The look of ${name}`,
  theLook: 'the look',
  changeTheLook: 'Change the look',
  howItsPageLooks: 'How its page looks',
  saidHere: (count: number) =>
    count === 0
      ? 'Nothing is different here.'
      : count === 1
        ? 'One thing is different here.'
        : `${count} things are different here.`,
  fromAboveUnlessChanged: 'It looks as what it belongs to, unless you change something.',
  forChannelSeriesEvent: 'Channels, series and events look like this too, unless one of them says otherwise.',
  besideThePicture: 'Beside the picture',
  besideHint: 'In this order, from the top. The chat always stands at the foot.',
  moveUp: (what: Filled) => `${what}: further up`,
  moveDown: (what: Filled) => `${what}: further down`,
  ownWords: 'Your own words',
  ownWordsHint: 'Addresses that begin with https become links.',
  address: 'How to get here',
  addressHint: 'A postal address, the bus, where to park.',
  giveUrl: 'Where people can give',
  giveUrlHint: 'An address of your own that begins with https.',
  shownAs: 'Shown as',
  asPage: 'a page',
  asEmbed: 'an embed on a website',
  behindThePage: 'A picture behind the page',
  thePicture: 'The picture behind the page, with where words show worst on it',
  noPicture: 'There is none: the page has its colour alone.',
  pictureHint: 'JPEG, PNG or WebP, at least 200 pixels each way. Quiet ones are best: people read on it.',
  pictureFit: 'It lies',
  pictureFits: { cover: 'over the whole page', tile: 'again and again, like wallpaper' },
  veil: 'Veil of the page’s colour, in per cent',
  veilItMore: (percent: Filled) => `Veil it to ${percent} %`,
  choosePicture: 'Choose a picture for behind the page',
  withoutPicture: 'Have none',
  onDevices: 'The device is set to',
  setToLight: 'light',
  setToDark: 'dark',
  hasNight: 'Dark where somebody’s device is',
  nightHint: 'Its colours follow from these, with the same hues, and can always be read.',
  theNightLogo: 'The logo for the dark',
  noNightLogo: 'In the dark it stands on a light plate.',
  nightLogoHint: 'If you have one for dark ground, choose it here.',
  showsCount: 'Viewers see how many watch',
  logo: 'Logo',
  theLogo: 'The logo as it is now',
  noLogo: 'There is no logo.',
  chooseALogo: 'Choose a picture',
  withoutALogo: 'Show none',
  logoHint:
    'SVG, PNG, JPEG or WebP, at least 24 pixels. We fit it; a picture with a clear ground looks best.',
  colours: 'Colours',
  typeAndShape: 'Words and corners',
  atTheFoot: 'At the foot',
  sizeOfWords: 'Size of words',
  roundingOfCorners: 'Rounding of corners, in pixels',
  ownLineAtTheFoot: 'Your own line',
  ownLineHint: 'For instance an address, or whom to call.',
  showsOurs: '“Streamed with Heliphon” stands there too',
  tooFaint: (where: Filled, ratio: Filled, needed: Filled) =>
    `Too faint ${where}: ${ratio} to 1, where ${needed} is needed.`,
  takeThis: (colour: Filled) => `Take ${colour}`,
  nothingShows: 'Page and sheet differ too much: no such colour shows on both.',
  sheetLikeThePage: 'Make the sheet like the page',
  everythingCanBeRead: 'Everything can be read.',
  keepTheLook: 'Keep the look',
  keepItAllTheSame: 'Keep it all the same',
  someCannotBeRead: (count: number) =>
    count === 1
      ? 'One colour is too faint for many people.'
      : `${count} colours are too faint for many people.`,
  discardTheChanges: 'Discard the changes',
  theLookIsKept: 'The look is kept.',
  thePage: 'The page as viewers see it',
  pressOnIt: 'Press on the page what you want to change.',
  widthOfThePage: 'Width',
  asItIs: 'Seen',
  noPageYet: 'There is no page to see it on yet: plan an event, and it stands here.',
  onlyAnOwnerCanChange: 'Only an owner can change the look of the house.',
  youCannotChange: 'You can look at it, but not change it.',
} as const;

export const LOOK_COLOUR_WORDS: Readonly<Record<LookColour, string>> = {
  ground: 'The page',
  sheet: 'The sheet beside the picture',
  text: 'Words',
  links: 'Links and headings',
  accent: 'Buttons and bars',
  warm: 'The light of the lamp and the countdown',
  names: 'Names in the chat',
};

/** What a colour stands on. */
export const LOOK_BEHIND_WORDS: Readonly<Record<LookGround, string>> = {
  ground: 'on the page',
  sheet: 'on the sheet',
};

export const TYPE_SIZE_WORDS = { 100: 'usual', 112: 'larger', 125: 'large' } as const;

export const WIDTH_WORDS = { 1280: 'Computer', 820: 'Tablet', 390: 'Phone' } as const;

export const TRY_OUT_WORDS: Readonly<Record<TryOutState, string>> = {
  now: 'as it is now',
  before: 'days before',
  doors: 'with its doors open',
  air: 'as it goes on air',
  over: 'when it is over',
  cancelled: 'when it is cancelled',
};

export const COMPANION_WORDS: Readonly<Record<Companion, string>> = {
  sheet: 'The order sheet',
  words: 'Your own words',
  address: 'How to get here',
  dates: 'The next dates',
  share: 'A button to share the page',
  give: 'A link to give',
};
