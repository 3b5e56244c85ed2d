import type { OutletKind } from '@heliphon/core/connectors/connector-facts';
import type { Filled } from '../filled.js';

const KINDS: Readonly<Record<OutletKind, string>> = {
  wall: 'own wall',
  page: 'page',
  group: 'group',
  channel: 'channel',
};

/** What is said in the console, accounts. en-GB. */
export const ACCOUNTS_TEXT = {
  linkedAccounts: 'Linked accounts',
  theAccounts: 'the accounts',
  noneYet:
    'None yet. Once somebody has linked their account, you choose their pages, groups or channels here, and nobody has to copy a key.',
  linkAt: (platform: Filled) => `Link an account at ${platform}`,
  at: (name: Filled, platform: Filled) => `${name} at ${platform}`,
  consentLasts: (day: Filled) => `the consent lasts until ${day}`,
  consentEnded: (day: Filled) => `the consent ended on ${day}`,
  onlyMe: 'what is posted is seen by nobody else',
  friends: 'what is posted is seen by friends alone',
  platformGone: 'This installation does not know this platform any more.',
  linkAgain: 'Link again',
  seeTheAccount: 'See the account',
  unlink: 'Unlink',
  unlinkAccount: (name: Filled, platform: Filled) => `Unlink ${name} at ${platform}?`,
  unlinkHold: 'Unlink: hold',
  whatUnlinkingDoes: 'The consent is taken back over there too, and everything of it is forgotten here.',
  nothingPlanned: 'Nothing that is planned goes there.',
  noLongerGo: 'These no longer go there:',
  moreEvents: (count: number) => (count === 1 ? 'and 1 more event' : `and ${count} more events`),
  seriesNoLonger: (title: Filled) => `${title}, every date`,
  postingsThere: (count: number) =>
    count === 1
      ? 'There is 1 posting for what is coming:'
      : `There are ${count} postings for what is coming:`,
  takeDown: (count: number) => (count === 1 ? 'Take it down' : 'Take them down'),
  leave: (count: number) => (count === 1 ? 'Leave it there' : 'Leave them there'),
  leaveHint: 'After that it can only be changed or taken down at the platform.',
  keepLinked: 'Keep it linked',
  outlets: (count: number) => (count === 1 ? '1 outlet may be used' : `${count} outlets may be used`),
  choose: 'Choose what is used',
  close: 'Close',
  find: 'Find by name',
  lookAgain: 'Ask again what is there',
  nothingFound: 'Nothing of this name.',
  noneChosen: 'Nothing is used yet.',
  outletsOf: (name: Filled) => `Outlets of ${name}`,
  earlier: 'Earlier',
  more: 'More',
  kind: (kind: OutletKind) => KINDS[kind],
  hasNotLetIn: 'The group has not let us in yet. Somebody who runs it has to allow it there.',
  isNotThere: 'It is not there any more, or the consent no longer covers it.',
  linking: 'Linking the account …',
  isLinked: 'The account is linked',
  closesByItself: 'This window can be closed.',
  notLinked: 'The account was not linked',
  postedAhead: 'Posted',
  ahead: (hours: number | null) =>
    hours === null
      ? 'as soon as it is planned'
      : hours % 24 === 0 && hours > 24
        ? `${hours / 24} days before`
        : hours === 0
          ? 'when it starts'
          : hours === 1
            ? '1 hour before'
            : `${hours} hours before`,
  postedAheadOf: (name: Filled) => `When events are posted at ${name}`,
  backToPlaces: 'Back to Where it goes',
} as const;
