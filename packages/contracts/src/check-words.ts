import type { AdviceCode, AdviceLine } from '@heliphon/core/ladder/compare-with-advice';
import type { Check, CheckCode } from '@heliphon/core/readiness/readiness';
import { adviceSentence } from './advice-words.js';

/** What is said of a check, en-GB: on the console, and in letters. */
interface CheckWords {
  /** What is the matter. */
  readonly open: (detail: Check['detail']) => string;
  /** What it means for the audience. */
  readonly reason: (detail: Check['detail']) => string;
  /** Named in the line of what has passed. */
  readonly passed: string;
  /** What cannot be told yet. */
  readonly later: string;
}

export const CHECK_WORDS: Readonly<Record<CheckCode, CheckWords>> = {
  'source-chosen': {
    open: () => 'No source is chosen',
    reason: () => 'Without one there is no picture.',
    passed: 'source chosen',
    later: 'source',
  },
  'source-here': {
    open: ({ name, kind }) =>
      kind === 'file' ? `The film of ${name} has not come to the media node yet` : `${name} sends no picture`,
    reason: ({ nodeIsHere, kind, gone, sendTo }) => {
      if (sendTo) return `${gone} does not answer. Its encoder has to send to ${sendTo} until that is back.`;
      if (!nodeIsHere) return 'The media node does not answer; nothing is known of it.';
      if (kind === 'programme') return 'Its picture comes once the other event is on air.';
      return 'Viewers will see “The picture will be back”.';
    },
    passed: 'picture is coming in',
    later: 'the picture, once the source is on',
  },
  codecs: {
    open: () => 'The picture is not H.264 with AAC',
    reason: () => 'Viewers could not see it.',
    passed: 'picture and sound are of the right kind',
    later: 'kind of picture and sound',
  },
  picture: {
    open: ({ name, kind }) =>
      ({
        none: `${name} sends sound without a picture`,
        black: `The picture of ${name} is black`,
        frozen: `The picture of ${name} stands still`,
      })[String(kind)] ?? `The picture of ${name} is not right`,
    reason: ({ kind }) =>
      kind === 'none'
        ? 'Viewers hear it and see nothing.'
        : kind === 'black'
          ? 'A lens cap, or a camera that is off.'
          : 'That is right for a slide, and wrong for a camera.',
    passed: 'the picture lives',
    later: 'what is in the picture',
  },
  loudness: {
    open: ({ kind }) =>
      ({
        silent: 'Nothing is heard',
        clipping: 'Sound: too hot, it clips',
        loud: 'Sound: too loud',
        quiet: 'Sound: very quiet',
      })[String(kind)] ?? 'Sound is not right',
    reason: ({ kind, lufs }) =>
      kind === 'silent'
        ? 'A microphone is off, or its fader is down.'
        : kind === 'quiet'
          ? `Elderly viewers will not hear it (${lufs} LUFS). Turn the desk up.`
          : `Turn the desk down a little (${lufs} LUFS).`,
    passed: 'sound: just right',
    later: 'how loud it is',
  },
  sound: {
    open: ({ name }) => `${name} sends no sound`,
    reason: () => 'Viewers would see a silent picture.',
    passed: 'sound is there',
    later: 'sound',
  },
  keyframes: {
    open: ({ seconds }) => `A keyframe comes only every ${seconds} s`,
    reason: () => 'Viewers wait longer for the picture. Set the encoder to 2 seconds.',
    passed: 'keyframes are right',
    later: 'keyframes',
  },
  advice: {
    open: ({ code, ...detail }) =>
      adviceSentence(code as AdviceCode, detail as AdviceLine['detail']).what ||
      'What arrives is not as advised',
    reason: ({ code, ...detail }) =>
      adviceSentence(code as AdviceCode, detail as AdviceLine['detail']).set ||
      'See what arrives against the advice.',
    passed: 'what arrives is as advised',
    later: 'what arrives against the advice',
  },
  people: {
    open: ({ kind, name, title, duty }) =>
      ({
        cannot: `${name} cannot come, and nobody stands in as ${duty}`,
        twice: `${name} is down for “${title}” at the same time`,
        nobody: 'Nobody is down for the desk',
        unanswered: `${name} has not said whether they can come`,
      })[String(kind)] ?? 'Somebody is missing',
    reason: ({ kind }) =>
      kind === 'nobody'
        ? 'It goes on air by itself; nobody sees when something breaks.'
        : kind === 'unanswered'
          ? 'They were asked by letter. Ring them up.'
          : 'Ask somebody else.',
    passed: 'people know of their duty',
    later: 'who is on duty',
  },
  poster: {
    open: () => 'There is no poster',
    reason: () => 'People who come early see a plain page.',
    passed: 'poster is set',
    later: 'poster',
  },
  overrun: {
    open: ({ title }) => `If it runs over, it runs into “${title}”`,
    reason: () => 'Both want the same source or place then. Let it run over for less, or end it in time.',
    passed: 'nothing comes too soon after it',
    later: 'what comes after it',
  },
  film: {
    open: () => 'The film before the start has not come to the media node yet',
    reason: () => 'Without it the event begins with its picture.',
    passed: 'film, where it begins with one',
    later: 'the film before the start',
  },
  places: {
    open: ({ names }) => `The address of ${names} is not right`,
    reason: () => 'It would get nothing; the others are fine.',
    passed: 'places have an address',
    later: 'places',
  },
  'source-free': {
    open: ({ name, title }) => `“${title}” wants ${name} at the same time`,
    reason: ({ kind }) =>
      kind === 'place' ? 'It takes one programme at a time.' : 'Both would show the same picture.',
    passed: 'nobody else wants the source or the places',
    later: 'other events',
  },
  disk: {
    open: ({ freeGigabytes }) => `Only ${freeGigabytes} GB are free`,
    reason: () => 'The recording may not fit.',
    passed: 'space to record: plenty',
    later: 'space to record',
  },
};
