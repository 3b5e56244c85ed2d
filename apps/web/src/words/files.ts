import { FILE_LIMITS, type FileKind, type FileRefusal } from '@heliphon/core/files/file-kinds';
import type { FilmChange } from '@heliphon/core/files/film-plan';
import type { FileView } from '@heliphon/contracts/files';
import { duration } from '@heliphon/contracts/time-words';
import { sizeWords } from './sizes.js';

export const KIND_WORDS: Readonly<Record<FileKind, string>> = {
  picture: 'picture',
  film: 'film',
  sound: 'sound',
};

const { bytes, longestMs } = FILE_LIMITS;
/** Said before anybody chooses. */
export const LIMIT_WORDS = `Pictures up to ${sizeWords(bytes.picture)}, films up to ${sizeWords(bytes.film)}, sounds up to ${sizeWords(bytes.sound)}; ${duration(longestMs).replace(' 00', '')} at most.`;

/** Why a file cannot be used, and what to do. */
export const REFUSAL_WORDS: Readonly<Record<FileRefusal, string>> = {
  'file-empty': 'There is nothing in this file. Choose it once more.',
  'file-too-large': 'This is larger than it may be. Save it smaller.',
  'file-unknown':
    'This is no picture, film or sound that we can read, or it breaks off. Play it on your own machine first; if it plays, save it as MP4.',
  'file-broken': 'This file is not here any more. Upload it again.',
  'file-too-long': 'This is longer than six hours. Cut it, and upload the parts.',
  'file-without-length': 'Nothing in this file says how long it is. Save it once more as MP4.',
  'picture-too-small': `This picture is less than ${FILE_LIMITS.pictureLeastPx} pixels wide, and would look blurred.`,
  'picture-unreadable': 'This picture cannot be read to its end, or has too many pixels. Save it as JPEG.',
  'film-unreadable':
    'This film cannot be read to its end. Play it on your own machine; if it plays, save it as MP4.',
  'making-failed': 'It could not be made playable, and it is our fault. Try again in a moment.',
};

const CHANGES: Readonly<Record<FilmChange, string>> = {
  codec: 'it was coded as few players can read',
  colours: 'it had colours that few players can show',
  'too-large': 'it was larger than 1920 × 1080',
  'too-fast': 'it had more than 60 pictures a second',
  turned: 'it lay on its side',
  interlaced: 'it came in half pictures',
  keyframes: 'newcomers would have waited for a picture',
  'too-rich': 'it needed more than most connections carry',
};

/** `film · 1920 × 1080 · 3 min · 48 MB`. */
export function fileFacts({ kind, facts, sizeBytes }: FileView): string {
  const size = facts?.widthPx && facts.heightPx ? `${facts.widthPx} × ${facts.heightPx}` : null;
  const length = facts?.durationMs ? duration(facts.durationMs) : null;
  return [kind && KIND_WORDS[kind], size, length, sizeWords(sizeBytes)].filter(Boolean).join(' · ');
}

/** What was done to a film, and why; `null` where it is as it came. */
export function changeWords({ facts }: FileView): string | null {
  const list = new Intl.ListFormat('en-GB');
  const changes = facts?.changes ?? [];
  return changes.length > 0
    ? `Encoded anew: ${list.format(changes.map((change) => CHANGES[change]))}.`
    : null;
}
