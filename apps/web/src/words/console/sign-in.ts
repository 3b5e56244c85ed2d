import type { Filled } from '../filled.js';

/** What is said in the console, sign-in. en-GB. */
export const SIGN_IN_TEXT = {
  email: 'Email',
  signInToYourHouse: 'Sign in to your house',
  password: 'Password',
  code: 'Code',
  signIn: 'Sign in',
  iveForgottenMyPassword: 'I’ve forgotten my password',
  aNewPassword: 'A new password',
  sendMeAnEmail: 'Send me an email',
  backToSignIn: 'Back to sign-in',
  theLetter: 'the letter',
  thisLinkDoesNotWork: 'This link does not work',
  goToSignIn: 'Go to sign-in',
  welcomeTo: (houseName: Filled) => `Welcome to ${houseName}`,
  chooseANewPassword: 'Choose a new password',
  yourName: 'Your name',
  atLeastCharactersFourRandom: (least: Filled) =>
    `At least ${least} characters. Four random words work well.`,
  joinTheHouse: 'Join the house',
  saveThePassword: 'Save the password',
  anEmailIsOnItsWay: (email: Filled) =>
    `If ${email} belongs to a house, an email is on its way with a link that works for one hour.`,
  for: (email: Filled) => `for ${email}`,
} as const;
