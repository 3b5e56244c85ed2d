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
  'file-empty': 'This file is empty. Choose it again.',
  'file-too-large': 'This file is too large. Save a smaller version.',
  'file-unknown':
    'We could not read this as a picture, video or sound, or it is incomplete. If it plays on your own computer, save it as MP4.',
  'file-broken': 'This file is no longer here. Upload it again.',
  'file-too-long': 'This is longer than six hours. Cut it up and upload the parts.',
  'file-without-length': 'This file does not say how long it is. Save it again as MP4.',
  'picture-too-small': `This picture is less than ${FILE_LIMITS.pictureLeastPx} pixels wide and would look blurred.`,
  'picture-unreadable': 'This picture is damaged or has too many pixels. Save it again as JPEG.',
  'film-too-many-pixels':
    'This film is larger than 4096 by 4096 pixels. Save a smaller version and upload it again.',
  'film-unreadable': 'This film is damaged. If it plays on your own computer, save it again as MP4.',
  'making-failed': 'We could not convert it; the fault is on our side. Try again in a moment.',
};

const CHANGES: Readonly<Record<FilmChange, string>> = {
  codec: 'few players could play its format',
  colours: 'few players could show its colours',
  'too-large': 'it was larger than 1920 × 1080',
  'too-fast': 'it had more than 60 frames a second',
  turned: 'it was sideways',
  interlaced: 'it was interlaced',
  keyframes: 'it would have been slow to start',
  'too-rich': 'its bit rate was too high for most connections',
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
    ? `Converted, because ${list.format(changes.map((change) => CHANGES[change]))}.`
    : null;
}
