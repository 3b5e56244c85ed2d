import type { Filled } from '../filled.js';

/** What is said in the console, calendar. en-GB. */
export const CALENDAR_TEXT = {
  calendarFiles: 'Calendar files',
  saveThePlan: 'Save the plan',
  everythingPlannedAndTheLast:
    'Everything planned, and the last sixty days, for any calendar app. For a calendar that updates itself, set up “My calendar” under Our house.',
  saveAsACalendarFile: 'Save as a calendar file',
  importACalendar: 'Import a calendar',
  calendarFile: 'Calendar file',
  aFileWhoseNameEnds: (value: Filled, entries: Filled) =>
    `A file whose name ends in .ics, ${value} MB and ${entries} entries at most. Importing the same file again makes no duplicates.`,
  thisFileIsTooLarge: 'This file is too large. Export a shorter period from the other calendar.',
  orPasteItsText: 'Or paste its text',
  lookAtIt: 'Look at it',
  wasChanged: 'was changed',
  willBeAdded: 'will be added',
  willBeChanged: 'will be changed',
  thisCalendarIsEmpty: 'This calendar is empty.',
  toAddToUpdateLeft: (count: Filled, count2: Filled, count3: Filled) =>
    `${count} to add, ${count2} to update, ${count3} left alone.`,
  importedAddedUpdatedLeftAlone: (count: Filled, count2: Filled, count3: Filled) =>
    `Imported: ${count} added, ${count2} updated, ${count3} left alone.`,
  leftAlone: (why: Filled) => `left alone: ${why}`,
  importThisOne: 'Import this one',
  importThese: (count: Filled) => `Import these ${count}`,
} as const;
