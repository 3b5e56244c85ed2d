import { AUDIENCES, type Audience } from '@heliphon/core/connectors/connector-facts';
import type { PostingTrouble, PostingView } from '@heliphon/contracts/postings';
import type { Filled } from '../filled.js';

const TROUBLES: Readonly<Record<PostingTrouble, string>> = {
  'consent-ended': 'The consent has ended. Link the account again, under “Where it goes”.',
  'token-expired': 'The platform does not take our token at the moment.',
  'not-granted': 'The consent does not cover this any more. Link the account again, and tick it there.',
  'not-let-in': 'The group has not let us in yet.',
  unknown: 'It had disappeared there, and is being posted again.',
  busy: 'The platform asks us to wait.',
  'out-of-order': 'The platform is not answering.',
  'not-understood': 'The platform answered something that we do not understand.',
};

const STATES: Readonly<Record<NonNullable<PostingView['state']>, string>> = {
  planned: 'posted',
  open: 'on',
  ended: 'over',
};

const AUDIENCE_WORDS: Readonly<Record<Audience, string>> = {
  'only-me': 'The owner of the account alone',
  friends: 'Friends, or those who have the link',
  everyone: 'Everyone',
};

/** What is said in the console, postings. en-GB. */
export const POSTINGS_TEXT = {
  postings: 'Postings',
  at: (name: Filled, platform: Filled) => `${name} at ${platform}`,
  state: (state: NonNullable<PostingView['state']>) => STATES[state],
  isBeingPosted: 'is being posted',
  isPostedOn: (when: Filled) => `will be posted on ${when}`,
  trouble: (trouble: PostingTrouble) => TROUBLES[trouble],
  triedAgain: (time: Filled) => `Tried again at ${time}.`,
  seenBy: (audience: Audience) =>
    audience === 'only-me' ? 'seen by nobody but the owner of the account' : 'seen by friends alone',
  seeItThere: 'See it there',
  goOn: 'Go on there in a new posting',
  saysSomethingElse: 'with words of its own',
  itsOwnWords: 'Its own words',
  ownWordsAt: (name: Filled) => `What is said at ${name}`,
  leftEmpty: 'What is left empty is said there as everywhere.',
  title: 'Title there',
  text: 'Description there',
  shortened: (most: number) => `The platform shows ${most} characters at most.`,
  whoSeesIt: 'Who sees it',
  asUsual: 'As usual',
  audience: (audience: Audience) => AUDIENCE_WORDS[audience],
  /** Nobody can be let see more than the account lets. */
  audiencesUpTo: (most: Audience): readonly Audience[] => AUDIENCES.slice(0, AUDIENCES.indexOf(most) + 1),
  picture: 'Picture there',
  thePoster: 'the poster, as everywhere',
  anotherPicture: 'another picture',
  choosePicture: 'Choose a picture',
  asEverywhere: 'As everywhere',
  save: 'Save the words',
  saved: 'The words for this place are saved.',
  cancel: 'Cancel',
} as const;

/** Why a posting ended while its event goes on: what a platform always does is no fault. */
export function endingWords({
  platform: name,
  endedBecause,
  longestMs,
}: Pick<PostingView, 'endedBecause' | 'longestMs'> & { readonly platform: string | null }): string {
  const platform = name ?? 'the platform';
  switch (endedBecause) {
    case 'too-long':
      return longestMs === null
        ? `${platform} ended it, as it had lasted too long`
        : `${platform} ended it after ${hours(longestMs)}, as it always does`;
    case 'no-picture':
      return `${platform} ended it, as no picture had come for too long`;
    case 'sender':
    case null:
      return `it was ended at ${platform}`;
  }
}

const hours = (ms: number): string => (ms === 3_600_000 ? '1 hour' : `${Math.round(ms / 3_600_000)} hours`);
