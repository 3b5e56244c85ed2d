import type { Filled } from '../filled.js';

/** What is said in the console, duties. en-GB. */
export const DUTIES_TEXT = {
  yourDates: 'your dates',
  thisLinkDoesNotWork: 'This link does not work',
  addToMyCalendar: 'Add to my calendar',
  addThisAddressToThe:
    'Add this address to the calendar on your phone or computer, and your dates stay up to date.',
  privateAddress: 'Private address',
  theCalendarsAddress: 'the calendar’s address',
  myDuties: 'My duties',
  yourDuties: 'your duties',
  addThisAddressToThe2:
    'Add this address to the calendar on your phone or computer, and your dates stay up to date. The links in our emails show the same dates without signing in.',
  makeANewAddressThis: 'Make a new address; this one and older email links stop working',
  youAreNotOnThe:
    'You are not on the rota for anything. When somebody adds you to a date, it appears here and you get an email.',
  whatTheOthersShouldKnow: 'What the others should know',
  optionalItIsIncludedIn: 'Optional. It is included in their email.',
  send: 'Send',
  back: 'Back',
  onDuty: 'On duty',
  checkForANewerEmail: 'Check for a newer email with a newer link.',
  canYouCome: (name: Filled) => `Can you come, ${name}?`,
  yourDatesAt: (house: Filled) => `Your dates at ${house}`,
  iCanDoAll: (dates: Filled) => `I can do all ${dates}`,
  whenTo: '{when} to {stops}',
  titleAsDuty: (title: Filled, duty: Filled) => `${title}, as ${duty}`,
  cancelledNoNeed: 'Cancelled: no need to come',
  iCanCome: 'I can come',
  iCannotCome: 'I cannot come',
  youSaidYouCan: 'You said you can come',
  cannotComeCovered: (standIn: Filled) => `You said you cannot come; ${standIn} has been asked instead`,
  cannotComeUncovered: 'You said you cannot come; nobody is covering yet',
  youHaveNotAnswered: 'You have not answered yet',
} as const;
