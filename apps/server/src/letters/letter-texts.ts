/** What letters say, en-GB. A letter says who asks, what the link does, how long it is good, and what to do if it was not you. */
export interface LetterText {
  readonly subject: string;
  readonly text: string;
}

/** Under every letter. */
export const SIGN = 'This letter was written by Heliphon. Nobody reads answers to it.';

export const invitationLetter = (facts: {
  readonly name: string;
  readonly byName: string;
  readonly houseName: string;
  readonly link: string;
}): LetterText => ({
  subject: `Your place in ${facts.houseName}`,
  text: `Dear ${facts.name},

${facts.byName} would like you to help with the broadcasts of ${facts.houseName}.

Open this link, choose a password, and you are in:
${facts.link}

It is good for seven days. If you did not expect this letter, you need do nothing.

${SIGN}`,
});

export const resetLetter = (facts: {
  readonly name: string;
  readonly houseName: string;
  readonly link: string;
}): LetterText => ({
  subject: 'A new password',
  text: `Dear ${facts.name},

somebody, most likely you, asked for a new password for ${facts.houseName}.

Open this link and choose one:
${facts.link}

It is good for one hour, and once. If it was not you, you need do nothing: your password stays as it is.

${SIGN}`,
});

export const secondFactorGoneLetter = (facts: { readonly name: string }): LetterText => ({
  subject: 'Your second factor was switched off',
  text: `Dear ${facts.name},

signing in no longer asks for a code from your telephone. If it was not you, set a new password at once.

${SIGN}`,
});
