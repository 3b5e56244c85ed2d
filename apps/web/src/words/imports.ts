import type { ImportReason } from '@heliphon/contracts/calendar-import';

/** Why an entry of a calendar file is left alone. en-GB. */
export const LEFT_ALONE: Readonly<Record<ImportReason, string>> = {
  same: 'it is here already, just so',
  past: 'it is over',
  begun: 'it has begun here, or was cancelled',
  cancelled: 'it is cancelled there',
  'too-long': 'it lasts longer than a day',
  'no-time': 'it does not say when it ends',
  'all-day': 'it lasts all day: an event needs a time',
  'zone-unknown': 'it names a time zone that nobody knows',
  'one-date': 'it changes one date of what repeats: change that date here by hand',
  'rule-unreadable': 'it repeats in a way that a series cannot',
  'long-ago': 'it began too long ago: plan it here as a series',
  refused: 'it was refused: plan it here by hand',
  unreadable: 'it cannot be read',
};
