/** What is said by ui. en-GB. */
export const UI_TEXT = {
  needed: 'needed',
  doorsOpen: 'doors open',
  onAir: 'on air',
  heliphon: 'Heliphon',
  tryAgain: 'Try again',
  undo: 'Undo',
  takenBack: 'Taken back.',
} as const;
