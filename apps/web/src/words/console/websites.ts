import type { EmbedExtra } from '@heliphon/core/delivery/embed-code';
import type { WebsiteFinding } from '@heliphon/contracts/websites';
import type { Filled } from '../filled.js';

/** What is said where something is put on a website. en-GB. */
export const WEBSITES_TEXT = {
  onYourWebsite: 'On your website',
  onYourWebsiteOf: (name: Filled) => `${name} on your website`,
  whatItIs:
    'The address shows countdown, picture and replay in turn, by itself. You need to put it there only once.',
  seriesShows: 'It always shows the date that is on, or the next one.',
  channelShows: 'It always shows what is on in this channel, or what comes next.',
  websites: 'the websites',
  // Its addresses
  itsAddress: 'Its address',
  page: 'For people: its page',
  theAddress: 'the address',
  codeOf: (name: Filled) => `Code that leads to ${name}`,
  downloadSvg: 'Code as SVG',
  downloadPng: 'Code as PNG',
  sheet: 'Sheet to print',
  printTheSheet: 'Print this sheet',
  pointCamera: 'Point the camera of your telephone here, or type the address:',
  // The embed
  putItIn: 'Put it into a page',
  whatShows: 'What shows',
  picture: 'Countdown, picture and replay',
  countdownAlone: 'The countdown alone',
  with: 'Together with',
  width: 'Width',
  fitsTheRoom: 'as wide as there is room',
  fixed: 'a fixed width',
  widthInPixels: 'Pixels',
  line: 'One line for your page (the height fits itself)',
  theLine: 'the line',
  frame: 'A frame, where a website takes no scripts',
  theFrame: 'the frame',
  bareLink: 'Many websites take the bare address of the page and make a player of it themselves.',
  exactlyThis: 'Exactly this shows',
  recipes: 'Where does it go?',
  recipeEditor:
    'In a website builder, add a block called “HTML”, “Code” or “Embed”, and paste the line into it.',
  recipeText:
    'In an editor for text, switch to its source view, usually a button marked <>, and paste the frame.',
  recipeFile: 'In a page that somebody wrote by hand, the line goes where the picture is to be.',
  // The check
  doesItShow: 'Does it show?',
  pageAddress: 'Address of your page',
  pageAddressHint: 'The page of your own website, as you would open it in a browser.',
  look: 'Have a look',
  looking: 'Looking …',
  // The list
  whereItShows: 'Where it is shown',
  nowhereYet: 'Nobody has opened it on a website yet. As soon as somebody does, it is listed here.',
  lastOpened: (when: Filled) => `last opened ${when}`,
  neverOpened: 'not opened there yet',
  mostViewers: (count: number) => (count === 1 ? 'one viewer' : `up to ${count} viewers at once`),
  lookedAt: (when: Filled) => `looked at ${when}`,
  lookAgain: 'Look again',
  lookAgainAt: (host: Filled) => `Look again at ${host}`,
  refuse: 'Do not show it there',
  refuseAt: (host: Filled) => `Do not show it on ${host}`,
  allow: 'Let it show there',
  allowAt: (host: Filled) => `Let it show on ${host}`,
  notAllowed: 'not allowed there',
  forget: 'Take off this list',
  forgetAt: (host: Filled) => `Take ${host} off this list`,
  changed: 'Changed. Pages that are open follow within a minute.',
} as const;

export const EXTRA_WORDS: Readonly<Record<EmbedExtra, string>> = {
  title: 'its title',
  sheet: 'the order sheet',
  chat: 'the chat',
};

const UNREAD: Readonly<Record<string, string>> = {
  'inner-address':
    'This address lies within our own network. Give the address by which everybody reaches the page.',
  'not-found': 'There is no website of this name. Check how it is spelled.',
  'too-slow': 'The website did not answer within five seconds. Try again in a while.',
  'not-secure': 'The certificate of the website is not valid: browsers warn of it, too.',
  unreachable: 'The website could not be reached. Try again in a while.',
  'too-large': 'The page is too large for us to read.',
  'too-many-redirects': 'The address leads in circles.',
  'no-page': 'There is something at this address, but it is not a page.',
  'status-401': 'The page asks for a password, so we cannot look at it.',
  'status-403': 'The website does not let us look at the page.',
  'status-404': 'There is no page at this address. Check how it is spelled.',
};

interface FindingWords {
  readonly isGood: boolean;
  readonly says: string;
  /** What to do; empty where nothing has to be done. */
  readonly todo: string;
}

/** What was found, and what to change. */
export function findingWords(finding: WebsiteFinding): FindingWords {
  const wrong = (says: string, todo: string): FindingWords => ({ isGood: false, says, todo });
  switch (finding.kind) {
    case 'shows':
      return { isGood: true, says: 'It shows.', todo: '' };
    case 'other':
      return wrong(
        `Something else of ours is there: ${finding.slug}.`,
        'Replace it with the line above, or leave it if that is what you want.',
      );
    case 'not-there':
      return finding.hasScripts
        ? wrong(
            'We did not see it.',
            'If your website puts it in by a script we cannot see that from here: open the page in a browser once, and it is listed below.',
          )
        : wrong('It is not there.', 'Paste the line into the page, and publish the page.');
    case 'page-forbids':
      return wrong(
        'It is there, but your website forbids it.',
        `Somebody who looks after the website has to add ${finding.origin} to “${finding.directive}” in its Content-Security-Policy.`,
      );
    case 'we-forbid':
      return wrong(
        'It is there, but it may not be shown on this website.',
        'Allow the website under “Who may watch”.',
      );
    case 'insecure':
      return wrong(
        'It is there, but your website is secured and the address is not.',
        'Use the address that begins with https.',
      );
    case 'too-narrow':
      return wrong(
        `It is there, but only ${finding.widthPx} pixels wide.`,
        'Give it at least 200, better 640.',
      );
    case 'unread':
      return wrong(UNREAD[finding.why] ?? 'The website did not give us the page. Try again in a while.', '');
  }
}
