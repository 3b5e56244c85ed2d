import { type LetterText, SIGN } from '../letters/letter-texts.js';

/** That something does not show on a website any more. */
export const goneLetter = (facts: {
  readonly name: string;
  /** What stood there. */
  readonly what: string;
  readonly houseName: string;
  /** The page of the website. */
  readonly address: string;
  readonly link: string;
}): LetterText => ({
  subject: `“${facts.what}” no longer shows on your website (${facts.houseName})`,
  text: `Dear ${facts.name},

we looked at this page tonight, and “${facts.what}” does not show there any more:
${facts.address}

Everything still works on its own page. What we found, and what to do about it, is here:
${facts.link}

${SIGN}`,
});
