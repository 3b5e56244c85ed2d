import type { ImportReason } from '@heliphon/contracts/calendar-import';

/** Why an entry of a calendar file is left alone. en-GB. */
export const LEFT_ALONE: Readonly<Record<ImportReason, string>> = {
  same: 'it is already here and unchanged',
  past: 'it is in the past',
  begun: 'it has started here, or was cancelled',
  cancelled: 'it is cancelled in the other calendar',
  'too-long': 'it lasts longer than a day',
  'no-time': 'it does not say when it ends',
  'all-day': 'it lasts all day: an event needs a time',
  'zone-unknown': 'its time zone is unknown',
  'one-date': 'it changes one date of a series: change that date here by hand',
  'rule-unreadable': 'it repeats in a way we do not support',
  'long-ago': 'it started too long ago: plan it here as a series',
  refused: 'it could not be added: plan it here by hand',
  unreadable: 'it cannot be read',
};
