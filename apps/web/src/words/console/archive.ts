import type { Filled } from '../filled.js';

/** What is said in the console, archive. en-GB. */
export const ARCHIVE_TEXT = {
  theBin: 'The bin',
  thingsCanBePutBack: 'things can be put back for thirty days; if the disk fills up, it is emptied sooner',
  backToTheArchive: 'Back to the archive',
  openTheBin: 'Open the bin',
  partsOfTheArchive: 'Parts of the archive',
  theArchive: 'the archive',
  theBinIsEmpty: 'The bin is empty.',
  noRecordingsYetEveryEvent:
    'No recordings yet. Every event that had a picture appears here as soon as it ends.',
  showOlderOnes: 'Show older ones',
  noPoster: 'no poster',
  watchTheReplay: 'Watch the replay',
  isInTheBinNobody: (title: Filled) => `“${title}” is in the bin. Nobody can watch it now.`,
  putItBack: 'Put it back',
  deleteForGoodHold: 'Delete for good: hold',
  thePicture: 'the picture',
  downloadAsMp4: 'Download as MP4',
  putItInTheBin: 'Put it in the bin',
  theRecordingIsSaved: 'The recording is saved.',
  titleOfTheRecording: 'Title of the recording',
  description: 'Description',
  saveTheDescription: 'Save the description',
  noFrameAtMs: (atMs: Filled) => `No frame at ${atMs} ms`,
  thisPictureIsNowThe: 'This picture is now the poster.',
  recordingOf: (title: Filled) => `Recording of ${title}`,
  whereInTheRecording: 'Where in the recording',
  makeThisFrameThePoster: 'Make this frame the poster',
  partIsStillAt: (places: Filled) => `Part of it is still at ${places}. It will be joined on automatically.`,
  deletedForGoodOn: (day: Filled) => `deleted for good on ${day}`,
} as const;
