import type { DeviceFault } from '../camera/devices.js';
import type { SendingState, StopReason } from '../camera/camera-sender.js';

import { MeasureError } from '../camera/measure-upload.js';
import { problemSentence } from './problems.js';

/** What stands in the way of a camera: what happened, then what to do. */
export const DEVICE_WORDS: Readonly<Record<DeviceFault, string>> = {
  'not-secure': 'Browsers only allow the camera on a secure page. Open this page at its https:// address.',
  'no-h264':
    'This browser cannot record video in a form we can use. Open this page in Chrome, Edge or Safari.',
  denied:
    'Your browser is blocking the camera and microphone. Click the camera or padlock next to the address, allow both, then try again.',
  'none-found': 'No camera or microphone was found. Plug one in, then try again.',
  'in-use': 'Another program is using the camera or the microphone. Close it, then try again.',
  'no-screen': 'The screen was not shared. Press the button again and choose what to show.',
  fault: 'The camera did not start. Unplug it and plug it back in, or try another browser.',
};

const STOP_WORDS: Readonly<Record<string, string>> = {
  'by-hand': 'You have stopped sending.',
  'unknown-line': 'This link no longer works. Ask for a new one.',
  'line-over': 'This link has expired or been withdrawn. You are no longer sending.',
  'already-sending': 'Somebody else is already sending here. Wait until they stop, then try again.',
  container:
    'This browser cannot record video in a form we can use. Open this page in Chrome, Edge or Safari.',
  'video-codec':
    'Video from this browser cannot be shown everywhere. Open this page in Chrome, Edge or Safari.',
  'too-many-tries': 'Too many attempts. Wait a minute, then try again.',
  'away-too-long':
    'Your connection was lost for too long and the recording could not be kept any longer. Start again.',
  recorder: 'The browser stopped recording. Press “Send my picture” again.',
};

export const stopWords = (why: StopReason): string => STOP_WORDS[why] ?? STOP_WORDS.recorder!;

/** Where the picture is, for the person who sends it. */
export function sendingWords(state: SendingState, isShown: boolean): string {
  switch (state.status) {
    case 'idle':
      return 'You are not sending yet.';
    case 'connecting':
      return 'Connecting …';
    case 'sending':
      return isShown
        ? 'You are on air: viewers see and hear you.'
        : 'We are receiving your picture. Viewers cannot see it yet.';
    case 'away':
      return 'Your connection has dropped. Keep going: what you record is saved and sent as soon as it is back.';
    case 'stopped':
      return stopWords(state.why);
  }
}

const MEASURE_WORDS: Readonly<Record<MeasureError['code'], string>> = {
  unreachable: 'We cannot reach the media node from here. Check the network, then measure again.',
  refused: 'Several people are measuring at the moment. Try again in a minute.',
  'too-little': 'The connection dropped before the measurement was finished. Measure again.',
};

/** Why an upload was not measured. */
export const measureSentence = (error: unknown): string =>
  error instanceof MeasureError ? MEASURE_WORDS[error.code] : problemSentence(error);
