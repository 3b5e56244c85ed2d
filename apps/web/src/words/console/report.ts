import type { Filled } from '../filled.js';

/** What is said in the signal report. en-GB. */
export const REPORT_TEXT = {
  signalReport: 'Signal report',
  of: (title: Filled) => `Signal report: ${title}`,
  whatViewersHad: 'What viewers had, from going on air to the end',
  whereWatched: 'Where it was watched',
  watchedAt: (place: Filled, average: Filled, most: Filled) =>
    `${place}: ${average} on average, ${most} at most`,
  ourOwnPage: 'Our own page',
  otherPlayers: 'Other players',
  aPlace: 'A place',
  beforeNextTime: 'Before next time',
  whatWentWrong: 'What went wrong',
  nothingWentWrong: 'Nothing went wrong.',
  theSound: 'The sound',
  whatCameIn: 'What came in',
  compared: 'Beside the others in its series',
  print: 'Print',
  backToTheEvent: 'Back to the event',
  readTheReport: 'Read the signal report',
  inDetail: 'Second by second',
  howToZoom: 'Drag across the chart to look closer; press twice to see all of it again.',
  layOver: (day: Filled) => `Lay ${day} over it`,
  asTable: 'As a table (CSV)',
  asJson: 'As JSON',
  averages: (rate: string, advised: string | null, fps: string, keyframes: string | null) =>
    `On average ${rate} came in${advised ? ` (${advised} was advised)` : ''}, at ${fps} pictures a second${keyframes ? `, with a keyframe every ${keyframes} s` : ''}.`,
  nothingCameIn: 'Nothing came in.',
  watched: (average: number, most: number) =>
    most === 0 ? 'Nobody watched.' : `${average} watched on average, ${most} at most.`,
  clean: (share: Filled, faults: number) =>
    `clean for ${share} of the time, ${faults === 0 ? 'no faults' : faults === 1 ? '1 fault' : `${faults} faults`}`,
  notMeasured: 'not measured',
  picture: 'picture',
  film: 'opening film',
  slate: 'slate',
  nothing: 'nothing',
  oneNotchAFault: 'A notch under the band is a fault.',
  cost: (viewerMinutes: Filled) => `All of it cost ${viewerMinutes}.`,
} as const;
