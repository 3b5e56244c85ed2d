import type { Finding } from '../../public/help-check.js';

interface FindingWords {
  /** Whose fault it is. */
  readonly side: 'none' | 'us' | 'you';
  /** What it is, and what to do. */
  readonly words: string;
}

/** What "No sound? No picture?" says, by what it found. en-GB. */
export const FINDING_WORDS: Readonly<Record<Finding, FindingWords>> = {
  'not-started': {
    side: 'none',
    words: 'It has not started yet. Stay on this page and it will start by itself.',
  },
  cancelled: { side: 'none', words: 'This event is not taking place.' },
  'no-connection': {
    side: 'you',
    words: 'Your device cannot reach us. If other pages do not load either, check your Wi-Fi or cable.',
  },
  'no-picture': { side: 'us', words: 'We have no picture for this event. Nothing is wrong at your end.' },
  'picture-away': {
    side: 'us',
    words: 'We have lost the picture and are getting it back. There is nothing you need to do.',
  },
  'media-away': {
    side: 'us',
    words:
      'The page works but the picture does not. Wait a minute; if it does not come back, reload the page.',
  },
  muted: { side: 'you', words: 'The sound is off in the player. Press “Turn the sound on”.' },
  'device-silent': {
    side: 'you',
    words:
      'The sound is playing here. Turn your device up, and check for plugged-in headphones or a muted tab.',
  },
  'sound-only': {
    side: 'you',
    words: '“Sound only” is chosen. Choose “Picture and sound” in its place, below the picture.',
  },
  slow: {
    side: 'you',
    words:
      'Your connection is slow, so the picture keeps stopping. Move closer to the Wi-Fi, close other videos, or choose “Sound only” below the picture.',
  },
  paused: { side: 'you', words: 'The picture is paused. Press Play.' },
  fine: {
    side: 'none',
    words: 'The picture is reaching you. If you cannot see it, reload the page or try another browser.',
  },
};
