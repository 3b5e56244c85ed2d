import type { Say } from '@heliphon/core/languages/words';
import type { LetterText } from '../letters/letter-texts.js';

/** Invites somebody to watch, in the language of the house. */
export const watchLetter = (
  say: Say,
  facts: {
    readonly name: string;
    /** What they are invited to. */
    readonly what: string;
    readonly house: string;
    readonly link: string;
  },
): LetterText => ({
  subject: say('letter.watchSubject', facts),
  text: `${say('letter.watch', facts)}\n\n${say('letter.sign')}`,
});
