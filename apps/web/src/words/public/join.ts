/** What is said on the public pages. en-GB. */
export const JOIN_TEXT = {
  thisLinkNoLongerWorks: 'This link no longer works.',
  invitation: 'invitation',
  weCannotBeReachedAt: 'We cannot be reached at the moment. You may still be sending; we will keep trying.',
  asViewersSeeIt: 'As viewers see it',
  hideIt: 'Hide it',
  showWhatViewersSee: 'Show what viewers see',
  whatViewersSee: 'What viewers see',
  youHaveBeenInvited:
    'You have been invited to send your picture and sound, {guest}. Nothing is sent until you press “Send my picture”.',
} as const;
