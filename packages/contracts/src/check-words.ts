import type { AdviceCode, AdviceLine } from '@heliphon/core/ladder/compare-with-advice';
import type { Check, CheckCode } from '@heliphon/core/readiness/readiness';
import type { OutletTrouble } from '@heliphon/core/connectors/outlet-trouble';
import { formatWords } from './fault-words.js';
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
    passed: 'a source is chosen',
    later: 'the source',
  },
  'source-here': {
    open: ({ name, kind }) =>
      kind === 'file'
        ? `The film ${name} has not reached the media node yet`
        : `${name} is not sending a picture`,
    reason: ({ nodeIsHere, kind, gone, sendTo }) => {
      if (sendTo) return `${gone} is not responding. Point its encoder at ${sendTo} until it is back.`;
      if (!nodeIsHere) return 'The media node is not responding, so we cannot tell.';
      if (kind === 'programme') return 'Its picture starts once the other event is on air.';
      return 'Viewers will see the slate: “The picture will be here in a moment”.';
    },
    passed: 'the picture is coming in',
    later: 'the picture, once the source is on',
  },
  codecs: {
    open: () => 'The picture is not H.264 with AAC',
    reason: () => 'Viewers could not see it.',
    passed: 'picture and sound formats are right',
    later: 'the picture and sound formats',
  },
  picture: {
    open: ({ name, kind }) =>
      ({
        none: `${name} sends sound without a picture`,
        black: `The picture from ${name} is black`,
        frozen: `The picture from ${name} is frozen`,
      })[String(kind)] ?? `Something is wrong with the picture from ${name}`,
    reason: ({ kind }) =>
      kind === 'none'
        ? 'Viewers can hear it but see nothing.'
        : kind === 'black'
          ? 'The lens cap may be on, or the camera off.'
          : 'Fine for a slide, but not for a camera.',
    passed: 'the picture is moving',
    later: 'the picture itself',
  },
  loudness: {
    open: ({ kind }) =>
      ({
        silent: 'There is no sound',
        clipping: 'Sound: far too loud, it is distorting',
        loud: 'Sound: too loud',
        quiet: 'Sound: very quiet',
      })[String(kind)] ?? 'Something is wrong with the sound',
    reason: ({ kind, lufs }) =>
      kind === 'silent'
        ? 'A microphone may be off, or its fader down.'
        : kind === 'quiet'
          ? `Some viewers will struggle to hear it (${lufs} LUFS). Turn it up at the mixing desk.`
          : `Turn it down a little at the mixing desk (${lufs} LUFS).`,
    passed: 'sound: just right',
    later: 'the loudness',
  },
  sound: {
    open: ({ name }) => `${name} is not sending any sound`,
    reason: () => 'Viewers would see the picture without sound.',
    passed: 'there is sound',
    later: 'the sound',
  },
  keyframes: {
    open: ({ seconds }) => `There is only a keyframe every ${seconds} s`,
    reason: () => 'Viewers wait longer for the picture to start. Set the encoder to 2 seconds.',
    passed: 'keyframes are fine',
    later: 'the keyframes',
  },
  advice: {
    open: ({ code, ...detail }) =>
      adviceSentence(code as AdviceCode, detail as AdviceLine['detail']).what ||
      'The encoder settings are not as recommended',
    reason: ({ code, ...detail }) =>
      adviceSentence(code as AdviceCode, detail as AdviceLine['detail']).set ||
      'Compare it with the recommended settings.',
    passed: 'encoder settings are as recommended',
    later: 'the encoder settings',
  },
  accounts: {
    open: ({ kind, name, accountName, platformName }) =>
      ({
        'consent-ended': `${accountName}’s consent at ${platformName} has ended`,
        'not-there': `${name} is not there any more`,
        'not-let-in': `${name} has not let us in yet`,
        'consent-ends': `${accountName}’s consent at ${platformName} ends before this event is over`,
        'only-me': `Nobody but ${accountName} will see the posting at ${name}`,
      })[kind as OutletTrouble],
    reason: ({ kind, platformName, count }) => {
      const others = Number(count) - 1;
      const more = others === 1 ? ' One more place has trouble.' : ` ${others} more places have trouble.`;
      return REASONS_OF_OUTLETS[kind as OutletTrouble](String(platformName)) + (others > 0 ? more : '');
    },
    passed: 'linked accounts are in order',
    later: 'linked accounts',
  },
  people: {
    open: ({ kind, name, title, duty }) =>
      ({
        cannot: `${name} cannot come, and nobody is covering as ${duty}`,
        twice: `${name} is also on the rota for “${title}” at the same time`,
        nobody: 'Nobody is on the rota to run the desk',
        unanswered: `${name} has not said whether they can come`,
      })[String(kind)] ?? 'Somebody is missing',
    reason: ({ kind }) =>
      kind === 'nobody'
        ? 'It goes on air by itself, but nobody will notice if something goes wrong.'
        : kind === 'unanswered'
          ? 'They have been asked by email. Give them a ring.'
          : 'Ask somebody else.',
    passed: 'the rota is settled',
    later: 'who is on the rota',
  },
  poster: {
    open: () => 'There is no poster',
    reason: () => 'People who arrive early see a plain page.',
    passed: 'there is a poster',
    later: 'the poster',
  },
  overrun: {
    open: ({ title }) => `If it runs over, it runs into “${title}”`,
    reason: () => 'Both need the same source or place. Allow less time for running over, or end it on time.',
    passed: 'nothing follows too soon',
    later: 'what follows',
  },
  film: {
    open: () => 'The opening film has not reached the media node yet',
    reason: () => 'Without it the event starts with the live picture.',
    passed: 'any opening film is ready',
    later: 'the opening film',
  },
  places: {
    open: ({ names }) => `The address of ${names} is wrong`,
    reason: () => 'It would receive nothing; the others are fine.',
    passed: 'every place has an address',
    later: 'the places',
  },
  'source-free': {
    open: ({ name, title }) => `“${title}” needs ${name} at the same time`,
    reason: ({ kind }) =>
      kind === 'place' ? 'It can only take one programme at a time.' : 'Both would show the same picture.',
    passed: 'the source and places are free',
    later: 'clashes with other events',
  },
  standby: {
    open: ({ kind, name }) =>
      ({
        away: `${name}, the second source, is not sending`,
        elsewhere: `${name}, the second source, sends to another ingest point`,
        differs: `${name}, the second source, sends another picture or sound`,
      })[String(kind)] ?? `${name}, the second source, is not ready`,
    reason: ({ kind, first, own, other }) =>
      ({
        away: 'If the first fails, viewers will see the slate.',
        elsewhere: 'From there it cannot take over. Point its encoder at the ingest point of the first.',
        differs: `When it takes over, places have to connect again. ${first}: ${formatWords(own)}; this one: ${formatWords(other)}.`,
      })[String(kind)] ?? 'If the first fails, it cannot take over.',
    passed: 'any second source is ready',
    later: 'the second source',
  },
  look: {
    open: ({ count }) =>
      count === 1 ? 'A colour of the page is too faint' : `${count} colours of the page are too faint`,
    reason: () => 'Many people will not be able to read it, least of all on a phone in the sun.',
    passed: 'the page can be read',
    later: 'the colours of the page',
  },
  watching: {
    open: ({ kind }) =>
      kind === 'no-password' ? 'There is no password to watch it by' : 'Nobody is invited to watch it',
    reason: () => 'Nobody will be able to watch it.',
    passed: 'people can get in',
    later: 'who may watch',
  },
  sizes: {
    open: ({ kind, names }) =>
      kind === 'no-room'
        ? `The media node has no processor time for a smaller picture (${names})`
        : `Your picture is no larger than ${names}`,
    reason: ({ kind, made }) =>
      kind !== 'no-room'
        ? 'It is not made: viewers have your own picture.'
        : made
          ? `Only ${made} will be made. Your own picture is not affected.`
          : 'Viewers on a weak line may have interruptions. Your own picture is not affected.',
    passed: 'any smaller pictures are fine',
    later: 'smaller pictures',
  },
  disk: {
    open: ({ freeGigabytes }) => `Only ${freeGigabytes} GB free`,
    reason: () => 'There may not be room for the recording.',
    passed: 'plenty of space to record',
    later: 'space to record',
  },
};

const REASONS_OF_OUTLETS: Readonly<Record<OutletTrouble, (platform: string) => string>> = {
  'consent-ended': () => 'The event cannot be posted there. Linked again, everything goes on as planned.',
  'not-there': (platform) =>
    `It was deleted at ${platform}, or the consent does not cover it. Link the account again, and tick it there.`,
  'not-let-in': (platform) => `Somebody who runs the group has to allow us at ${platform}.`,
  'consent-ends': () => 'Linked again, it lasts from that day on.',
  'only-me': (platform) =>
    `That was chosen at ${platform} or for this place. Link the account again, and choose who may see it.`,
};
