import type { DeviceFault } from '../camera/devices.js';
import type { SendingState, StopReason } from '../camera/camera-sender.js';

import { MeasureError } from '../camera/measure-upload.js';
import { problemSentence } from './problems.js';

/** What stands in the way of a camera: what happened, then what to do. */
export const DEVICE_WORDS: Readonly<Record<DeviceFault, string>> = {
  'not-secure':
    'Browsers give a camera only to a page with a lock beside its address. Open this page by its address with https://.',
  'no-h264':
    'This browser cannot record a picture that we can send on. Open this page in Chrome, Edge or Safari.',
  denied:
    'The browser was told not to let us see or hear. Press the camera or the lock beside the address, allow both, then try again.',
  'none-found': 'No camera or microphone was found. Plug one in, then try again.',
  'in-use': 'Another program is using the camera or the microphone. Close it, then try again.',
  'no-screen': 'The screen was not shared. Press again, and choose what is to be shown.',
  fault: 'The camera did not start. Take it out and put it back in, or try another browser.',
};

const STOP_WORDS: Readonly<Record<string, string>> = {
  'by-hand': 'You have stopped. Nothing is sent any more.',
  'unknown-line': 'This link is not known any more. Ask for another one.',
  'line-over': 'This link has run out, or was taken back. Nothing is sent any more.',
  'already-sending':
    'Somebody else is sending here already, and stays on. Wait until they stop, then try again.',
  container:
    'This browser cannot record a picture that we can send on. Open this page in Chrome, Edge or Safari.',
  'video-codec':
    'What this browser records cannot be shown everywhere. Open this page in Chrome, Edge or Safari.',
  'too-many-tries': 'That was too often. Wait a minute, then try again.',
  'away-too-long': 'The network was away for so long that no more could be kept. Begin again.',
  recorder: 'The browser stopped recording. Press “Send my picture” again.',
};

export const stopWords = (why: StopReason): string => STOP_WORDS[why] ?? STOP_WORDS.recorder!;

/** Where the picture is, for whoever sends it. */
export function sendingWords(state: SendingState, isShown: boolean): string {
  switch (state.status) {
    case 'idle':
      return 'Nothing is sent yet.';
    case 'connecting':
      return 'Connecting …';
    case 'sending':
      return isShown
        ? 'You are on air: viewers see and hear you.'
        : 'Your picture arrives. Viewers do not see it yet.';
    case 'away':
      return 'Your network is away. Keep going: what you record is kept, and sent as soon as it is back.';
    case 'stopped':
      return stopWords(state.why);
  }
}

const MEASURE_WORDS: Readonly<Record<MeasureError['code'], string>> = {
  unreachable: 'The media node cannot be reached from here. Look at the network, then measure again.',
  refused: 'Several people are measuring just now. Try again in a minute.',
  'too-little': 'The line broke off before there was enough to measure. Measure again.',
};

/** Why an upload was not measured. */
export const measureSentence = (error: unknown): string =>
  error instanceof MeasureError ? MEASURE_WORDS[error.code] : problemSentence(error);
