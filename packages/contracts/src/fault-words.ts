import { type Fault, type FaultKind, noticedMs } from '@heliphon/core/faults/fault';
import { duration } from './time-words.js';

/** How the things that a fault is about are called. */
export interface FaultNames {
  readonly source: string;
  readonly place: string;
}

/** The thing with an id, which is a source or a place; one that was deleted since has no name any more. */
export const namesIn = (names: Readonly<Record<string, string>>, id: string): FaultNames => ({
  source: names[id] ?? 'The source',
  place: names[id] ?? 'A place',
});

interface FaultSentences {
  /** While it lasts, and afterwards. */
  readonly now: string;
  readonly then: string;
  /** What helps. */
  readonly help: string;
  /** What to change before next time, where that is not simply what helps now. */
  readonly nextTime?: string;
}

type Tell = (detail: Fault['detail'], names: FaultNames) => FaultSentences;

const ENCODER_GONE: Readonly<Record<string, (source: string) => FaultSentences>> = {
  'no-source': () => ({
    now: 'No source is chosen.',
    then: 'No source was chosen.',
    help: 'Choose one under Plan.',
    nextTime: 'Choose a source under Plan before the event begins.',
  }),
  'never-came': (source) => ({
    now: `${source} has not sent a picture yet.`,
    then: `${source} had not sent a picture yet.`,
    help: 'Start the encoder. If it runs, see how it connects.',
    nextTime: `Start ${source} while the doors are open, so that there is time to see its picture.`,
  }),
  'encoder-stopped': (source) => ({
    now: `${source} has stopped sending.`,
    then: `${source} stopped sending.`,
    help: 'Press start on the encoder.',
    nextTime: `Find out why ${source} stopped sending: whether somebody stopped it, or it ended by itself.`,
  }),
  stands: (source) => ({
    now: `${source} is connected, but nothing is arriving.`,
    then: `${source} was connected, but nothing arrived.`,
    help: 'Check its internet line, and whether the encoder is still running.',
    nextTime: `Check the internet line of ${source}, and whether its encoder runs without interruption.`,
  }),
};

const lostItsLine = (source: string): FaultSentences => ({
  now: `${source} has lost its connection.`,
  then: `${source} lost its connection.`,
  help: 'Check its internet line. It comes back by itself once the line does.',
  nextTime: `Check the internet line of ${source}. A cable is steadier than Wi-Fi.`,
});

const seconds = (ms: string | number | undefined): string => (Math.abs(Number(ms)) / 1000).toFixed(1);
/** `1280x720, 48000 Hz 2` for a reader. */
export const formatWords = (format: string | number | undefined): string =>
  String(format)
    .replace('x', ' × ')
    .replace(/, (\d+) Hz 1$/, ', $1 Hz mono')
    .replace(/, (\d+) Hz 2$/, ', $1 Hz stereo');

const TELL: Readonly<Record<FaultKind, Tell>> = {
  'node-away': ({ moved }) => ({
    now: moved
      ? 'The media node stopped. The event goes on at another, and every place is connected again once.'
      : 'The media node stopped, and is starting again.',
    then: moved
      ? 'The media node stopped, and the event went on at another. Every place was connected again once.'
      : 'The media node stopped, and started again.',
    help: 'It carries on by itself. If it happens again, tell the person who looks after the server.',
    nextTime: 'Tell the person who looks after the server that the media node stopped.',
  }),
  'encoder-gone': ({ ending }, { source }) =>
    (ENCODER_GONE[String(ending ?? 'stands')] ?? lostItsLine)(source),
  'took-over': (_, { source }) => ({
    now: `${source} has taken over.`,
    then: `${source} took over.`,
    help: 'The first source takes over again by itself once it is steady.',
  }),
  'picture-black': () => ({
    now: 'The picture is black.',
    then: 'The picture was black.',
    help: 'Check the lens cap, the exposure, and which input the mixer shows.',
  }),
  'picture-frozen': () => ({
    now: 'The picture has not moved for a while.',
    then: 'The picture did not move.',
    help: 'If it is not a slide, check the camera and its cable.',
  }),
  'no-sound': (_, { source }) => ({
    now: `${source} is not sending any sound.`,
    then: `${source} sent no sound.`,
    help: 'Switch the sound on at the encoder.',
    nextTime: `Switch the sound on at the encoder of ${source}.`,
  }),
  silence: () => ({
    now: 'There is no sound.',
    then: 'There was no sound.',
    help: 'Check the microphone and its fader.',
  }),
  'too-quiet': () => ({
    now: 'The sound is very quiet.',
    then: 'The sound was very quiet.',
    help: 'Turn it up a little at the mixing desk.',
  }),
  'too-loud': () => ({
    now: 'The sound is too loud.',
    then: 'The sound was too loud.',
    help: 'Turn it down a little at the mixing desk.',
  }),
  clipping: () => ({
    now: 'The sound is far too loud and is distorting.',
    then: 'The sound was far too loud and distorted.',
    help: 'Turn it down at the mixing desk.',
  }),
  'sound-offset': ({ aheadMs }) => ({
    now: `The sound is ${seconds(aheadMs)} s ${Number(aheadMs) > 0 ? 'ahead of' : 'behind'} the picture.`,
    then: `The sound was ${seconds(aheadMs)} s ${Number(aheadMs) > 0 ? 'ahead of' : 'behind'} the picture.`,
    help: 'Correct the sound delay at the encoder.',
  }),
  'line-weak': ({ lateMs, ratePercent }, { source }) => {
    const how = Number(lateMs) > 900 ? `, data arrives ${seconds(lateMs)} s late` : '';
    const rate = Number(ratePercent) < 60 ? `, only ${ratePercent} % of the usual rate arrives` : '';
    return {
      now: `The line from ${source} is weak${how || rate}.`,
      then: `The line from ${source} was weak.`,
      help: 'Lower the bit rate at the encoder, or stop whatever else is using the line.',
      nextTime: `Lower the bit rate of ${source}, or keep its line free of other use.`,
    };
  },
  'encoder-slow': ({ fps, expectedFps }, { source }) => ({
    now: `${source} cannot keep up: ${fps} of ${expectedFps} pictures a second arrive.`,
    then: `${source} could not keep up: ${fps} of ${expectedFps} pictures a second arrived.`,
    help: 'Set a smaller picture at the encoder, and close other programs there.',
    nextTime: `Set a smaller picture at the encoder of ${source}, and close other programs there.`,
  }),
  'keyframes-far': ({ seconds: apart }, { source }) => ({
    now: `${source} sends a keyframe only every ${apart} s, so people joining wait for a picture.`,
    then: `${source} sent a keyframe only every ${apart} s, so people joining waited for a picture.`,
    help: 'Set the keyframe interval to 2 s at the encoder.',
    nextTime: `Set the keyframe interval of ${source} to 2 s at its encoder.`,
  }),
  'format-changed': ({ from, to }, { source }) => ({
    now: `${source} has changed its picture or sound: ${formatWords(to)}.`,
    then: `${source} changed its picture or sound from ${formatWords(from)} to ${formatWords(to)}.`,
    help: 'If nobody meant to, set the encoder back after the event: places had to connect again.',
    nextTime: `Keep ${source} at one picture size and one sound format: a change makes places connect again.`,
  }),
  'place-refused': (_, { place }) => ({
    now: `${place} did not accept our key.`,
    then: `${place} did not accept our key.`,
    help: 'Put in a new key.',
    nextTime: `Put in a new key for ${place}.`,
  }),
  'place-unreachable': (_, { place }) => ({
    now: `${place} cannot be reached.`,
    then: `${place} could not be reached.`,
    help: 'We keep trying. Check its address.',
    nextTime: `Check the address of ${place}.`,
  }),
  'place-closed': (_, { place }) => ({
    now: `${place} closed the connection.`,
    then: `${place} closed the connection.`,
    help: 'We keep trying. See there whether the broadcast is still open.',
    nextTime: `See at ${place} why the connection was closed.`,
  }),
  'place-slow': (_, { place }) => ({
    now: `${place} is no longer taking the stream.`,
    then: `${place} stopped taking the stream.`,
    help: 'We connect again by ourselves. If it goes on, something is wrong there.',
    nextTime: `Ask the people who run ${place} why it stopped taking the stream.`,
  }),
  'recording-stopped': ({ reason }) =>
    reason === 'disk-full'
      ? {
          now: 'The disk is full, so nothing is being recorded.',
          then: 'The disk was full, so nothing was recorded.',
          help: 'Make room in the archive.',
        }
      : {
          now: 'The disk cannot be written to, so nothing is being recorded.',
          then: 'The disk could not be written to, so nothing was recorded.',
          help: 'Tell the person who looks after the server.',
        },
  'sizes-shed': ({ names }) => ({
    now: `The media node is too busy to make smaller pictures: ${names}.`,
    then: `The media node was too busy to make smaller pictures: ${names}.`,
    help: 'Your own picture goes on as it is. They come back by themselves once there is room.',
    nextTime: 'Choose fewer smaller pictures under Plan, or run less at the same time.',
  }),
  'node-busy': () => ({
    now: 'The media node is overloaded.',
    then: 'The media node was overloaded.',
    help: 'End what is not needed. If it goes on, tell the person who looks after the server.',
    nextTime:
      'Run less at the same time, or tell the person who looks after the server that the media node was overloaded.',
  }),
};

/** What is said of a fault, en-GB: at the desk, in letters, in reports. */
export const faultSentences = ({ kind, detail }: Fault, names: FaultNames): FaultSentences =>
  TELL[kind](detail, names);

/** `Viewers saw the slate for 12 s.` */
export function noticedSentence(fault: Pick<Fault, 'noticed'>): string {
  const { slateMs, nothingMs, pictureMs, soundMs } = fault.noticed;
  if (noticedMs(fault) === 0) return 'Viewers noticed nothing.';
  const parts = [
    slateMs > 0 ? `saw the slate for ${duration(Math.max(1000, slateMs))}` : '',
    nothingMs > 0 ? `had no picture for ${duration(Math.max(1000, nothingMs))}` : '',
    pictureMs > 0 ? `had a poor picture for ${duration(Math.max(1000, pictureMs))}` : '',
    soundMs > 0 ? `had poor sound for ${duration(Math.max(1000, soundMs))}` : '',
  ].filter(Boolean);
  return `Viewers ${parts.join(' and ')}.`;
}
