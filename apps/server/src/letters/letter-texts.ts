/** What letters say, en-GB. A letter says who asks, what the link does, how long it is good, and what to do if it was not you. */
export interface LetterText {
  readonly subject: string;
  readonly text: string;
}

/** Under every letter. */
export const SIGN = 'This email was sent by Heliphon. Please do not reply to it.';

export const invitationLetter = (facts: {
  readonly name: string;
  readonly byName: string;
  readonly houseName: string;
  readonly link: string;
}): LetterText => ({
  subject: `Invitation to ${facts.houseName}`,
  text: `Dear ${facts.name},

${facts.byName} would like you to help with the live streams at ${facts.houseName}.

Open this link and choose a password to get started:
${facts.link}

The link works for seven days. If you were not expecting this email, you can ignore it.

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

Open this link to choose one:
${facts.link}

The link works once, within one hour. If it was not you, you can ignore this email and your password stays as it is.

${SIGN}`,
});

export const houseGoneLetter = (facts: {
  readonly name: string;
  readonly houseName: string;
}): LetterText => ({
  subject: `${facts.houseName} has been deleted`,
  text: `Dear ${facts.name},

everything belonging to ${facts.houseName} has now been deleted: events, recordings, files, chat, and the accounts of people who belonged to no other house. Nothing is left on our disks. Earlier backups still contain it until they are deleted too.

${SIGN}`,
});

export const secondFactorGoneLetter = (facts: { readonly name: string }): LetterText => ({
  subject: 'Your two-step sign-in was switched off',
  text: `Dear ${facts.name},

you no longer need a code from your phone to sign in. If this was not you, set a new password at once.

${SIGN}`,
});
