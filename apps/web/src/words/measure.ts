import { MeasureError } from '../camera/measure-upload.js';
import { problemSentence } from './problems.js';

const MEASURE_WORDS: Readonly<Record<MeasureError['code'], string>> = {
  unreachable: 'We cannot reach the media node from here. Check the network, then measure again.',
  refused: 'Several people are measuring at the moment. Try again in a minute.',
  'too-little': 'The connection dropped before the measurement was finished. Measure again.',
};

/** Why an upload was not measured. */
export const measureSentence = (error: unknown): string =>
  error instanceof MeasureError ? MEASURE_WORDS[error.code] : problemSentence(error);
