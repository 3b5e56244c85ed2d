import type { CheckCode, Stage } from '@heliphon/core/readiness/readiness';
import type { MarkName } from '../../ui/Mark.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** How bad an open check is. */
export const CHECK_MARKS: Readonly<Record<'stops' | 'warns' | 'advises', MarkName>> = {
  stops: 'trouble',
  warns: 'caution',
  advises: 'advice',
};

interface StageRemedy {
  readonly words: string;
  readonly stage: Exclude<Stage, 'air'>;
}

/** The one step that puts each check right: in a stage of the event, with an account's consent, in its look, or where it is said who may watch. */
export const CHECK_REMEDIES: Readonly<
  Record<CheckCode, StageRemedy | 'link-again' | 'look' | 'watching' | null>
> = {
  'source-chosen': { words: EVENT_TEXT.chooseASource, stage: 'plan' },
  'source-here': { words: EVENT_TEXT.howToConnect, stage: 'connect' },
  codecs: { words: EVENT_TEXT.howToConnect, stage: 'connect' },
  picture: { words: EVENT_TEXT.checkPictureAndSound, stage: 'rehearse' },
  loudness: { words: EVENT_TEXT.checkPictureAndSound, stage: 'rehearse' },
  sound: { words: EVENT_TEXT.checkPictureAndSound, stage: 'rehearse' },
  keyframes: { words: EVENT_TEXT.checkWhatIsComingIn, stage: 'connect' },
  advice: { words: EVENT_TEXT.checkWhatIsComingIn, stage: 'connect' },
  people: { words: EVENT_TEXT.checkTheRota, stage: 'plan' },
  poster: { words: EVENT_TEXT.chooseAPoster, stage: 'plan' },
  film: { words: EVENT_TEXT.checkTheFilm, stage: 'plan' },
  sizes: { words: EVENT_TEXT.changeTheSizes, stage: 'plan' },
  overrun: { words: EVENT_TEXT.changeItsTime, stage: 'plan' },
  accounts: 'link-again',
  look: 'look',
  watching: 'watching',
  places: { words: EVENT_TEXT.checkThePlaces, stage: 'plan' },
  'source-free': { words: EVENT_TEXT.chooseAnotherSource, stage: 'plan' },
  standby: { words: EVENT_TEXT.howToConnect, stage: 'connect' },
  disk: null,
};
