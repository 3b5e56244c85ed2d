import type { Filled } from '../filled.js';

/** What the desk's one line says: what viewers see, and what is wrong. en-GB. */
export const SPOKEN = {
  noSource: 'no source',
  theSource: 'The source',
  posterAndCountdown: 'People see the poster and a countdown.',
  countdownAndChat: 'People see the countdown and can chat.',
  replay: 'People can watch the replay.',
  cancelled: 'This event will not take place.',
  onAir: 'It is on air.',
  noNews: 'We have no news of the picture at the moment.',
  willBeBack: 'Viewers see “The picture will be back”.',
  slate: 'Viewers see the slate.',
  pointThere: (from: Filled, to: Filled, source: Filled) =>
    `${from} is not responding. The event carries on at ${to}: point ${source} there.`,
  openingFilm: (source: Filled, left: Filled) =>
    `Viewers see the opening film. The ${source} follows in ${left}.`,
  noPictureYet: (source: Filled) => `${source} is not sending a picture yet.`,
  viewersSee: (source: Filled) => `Viewers see the ${source}.`,
  hasItToo: (place: Filled) => `${place} has it too.`,
  everyPlaceHasIt: 'Every place has it.',
  placesHaveIt: (going: Filled, all: Filled) => `${going} of ${all} places have it.`,
  moreWithProblems: (count: number) => (count === 1 ? 'One more fault.' : `${count} more faults.`),
  othersAreFine: 'The others are fine.',
} as const;
