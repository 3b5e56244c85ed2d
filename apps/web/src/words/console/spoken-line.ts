import type { RecordingStop } from '@heliphon/core/control/observations';
import type { Filled } from '../filled.js';

/** Why nothing is being recorded. */
const RECORDING_STOPPED: Readonly<Record<RecordingStop, string>> = {
  'disk-full': 'The disk is full, so nothing is being recorded. Viewers will not notice.',
  'disk-fault': 'The disk cannot be written to, so nothing is being recorded. Viewers will not notice.',
};

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
  sendsNothing: (source: Filled) => `${source} is not sending anything. Places stay connected.`,
  openingFilm: (source: Filled, left: Filled) =>
    `Viewers see the opening film. The ${source} follows in ${left}.`,
  noPictureYet: (source: Filled) => `${source} is not sending a picture yet.`,
  noSound: (source: Filled) => `${source} is not sending any sound.`,
  viewersSee: (source: Filled) => `Viewers see the ${source}.`,
  hasItToo: (place: Filled) => `${place} has it too.`,
  everyPlaceHasIt: 'Every place has it.',
  placesHaveIt: (going: Filled, all: Filled) => `${going} of ${all} places have it.`,
  moreWithProblems: (count: Filled) => `${count} more with problems.`,
  othersAreFine: 'The others are fine.',
  recordingStopped: RECORDING_STOPPED,
  loudness: {
    silent: 'There is no sound. Check the microphone and its fader.',
    clipping: 'The sound is far too loud and is distorting. Turn it down at the mixing desk.',
    loud: 'The sound is too loud. Turn it down a little at the mixing desk.',
  },
} as const;
