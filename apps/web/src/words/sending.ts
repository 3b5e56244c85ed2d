import type { WordKey } from '@heliphon/core/languages/words';
import type { SendingState } from '../camera/camera-sender.js';
import { say, spokenLanguage } from './say.js';

type StoppedKey = Extract<WordKey, `stopped.${string}`>;

/** Where the picture is, for the person who sends it. */
export function sendingWords(state: SendingState, isShown: boolean): string {
  switch (state.status) {
    case 'idle':
    case 'connecting':
    case 'away':
      return say(`sending.${state.status}`);
    case 'sending':
      return say(isShown ? 'sending.shown' : 'sending.received');
    case 'stopped': {
      const key = `stopped.${state.why}`;
      return say(key in spokenLanguage().words ? (key as StoppedKey) : 'stopped.recorder');
    }
  }
}
