import type { Filled } from '../filled.js';

/** What is said of who is at the desk. en-GB. */
export const CREW_TEXT = {
  atTheDesk: 'At the desk',
  youHaveIt: 'You have the desk.',
  hasIt: (name: Filled) => `${name} has the desk.`,
  hasItAway: (name: Filled) => `${name} has the desk, but is not here.`,
  nobodyHasIt: 'Nobody has the desk.',
  isHereToo: (names: Filled, several: boolean) => `${names} ${several ? 'are' : 'is'} here too.`,
  iHaveTheDesk: 'I have the desk',
  handOverTo: (name: Filled) => `Hand over to ${name}`,
} as const;
