import { ApiError, OfflineError } from '../data/api.js';
import { sizeWords } from './sizes.js';

type Params = Readonly<Record<string, string | number>>;
type Sentence = string | ((params: Params) => string);

/** What went wrong, in words: what happened, what still works, what to do. One catalogue, en-GB. */
const SENTENCES: Readonly<Record<string, Sentence>> = {
  fault: 'This did not work, and it is our fault. Nothing was lost. Try again in a moment.',
  'database-away':
    'The house’s memory does not answer just now. What is on air goes on. Try again in a moment.',
  'not-found': 'There is nothing at this address any more.',
  'not-signed-in': 'You are signed out. Sign in again; nothing you typed is lost.',
  'wrong-sign-in': 'Email or password is not right. Type both again; capital letters count.',
  'second-factor-needed': 'Type the six figures that your telephone shows now, or a recovery code.',
  'second-factor-wrong': 'This code is not right, or was used already. Wait for the next one.',
  'second-factor-there': 'A second factor is set already. Switch it off first.',
  'code-wrong': 'This code is not right. Type the six figures that your telephone shows now.',
  'too-many-letters': ({ seconds }) => `Many letters have just been sent. Try again in ${seconds} s.`,
  'member-already': 'Somebody with this address belongs to the house already.',
  'last-owner': 'A house needs an owner. Make somebody else one first.',
  'link-used-up': 'This link has been used, or has run out. Ask for another.',
  'password-missing': 'Choose a password of at least twelve characters.',
  'password-wrong': 'This is not your password.',
  'house-name-wrong': 'This is not the name of the house. Type it as it stands above.',
  'house-on-air': ({ title }) => `“${title}” is on air. End it first.`,
  'undone-already': 'This was taken back already.',
  'not-to-be-undone': 'This cannot be taken back.',
  'nothing-to-undo': 'There is nothing of yours to take back here.',
  'changed-since': 'It has been changed again since. Look at it as it is now, and change it by hand.',
  'not-in-the-bin': 'Only what lies in the bin can be deleted for good.',
  'not-a-cursor': 'This list has changed. Load the page again.',
  'too-many-tries': ({ seconds }) => `That was too often. Wait ${seconds} s, then try again.`,
  'not-allowed': 'Your role may look at this but not change it. Ask an owner or producer of your house.',
  'other-origin': 'This came from another website and was not done.',
  'changed-meanwhile':
    'Somebody changed this while you did. Your words are still here; look at theirs, then save again.',
  'version-needed': 'This change did not say what it changes. Load the page again.',
  'moved-meanwhile': ({ state }) =>
    `This has already happened: the event is ${STATES[String(state)] ?? state} now.`,
  'too-late-to-change': 'This cannot be changed once the doors are open. All else still can.',
  'draft-too-late': 'Its time is over. Give it another one, then publish it.',
  'still-a-draft': 'This is still a draft. Publish it first; then it can go on air.',
  'not-planned-any-more': 'Only an event that has not begun can be deleted.',
  'fields-wrong': 'Something is missing or too long. Look at the fields that are marked.',
  'too-large': 'This file is too large. How large it may be stands beside its field.',
  'calendar-unreadable':
    'This is no calendar we can read. Choose a file whose name ends in .ics, or paste all of its text.',
  'calendar-too-many': ({ most }) =>
    `More than ${most} entries are too many at once. Save a shorter time from the other calendar.`,
  'no-such-zone': 'There is no such time zone. Choose one from the list.',
  'time-malformed': 'This is no date and time.',
  'time-no-such-zone': 'There is no such time zone.',
  'time-does-not-exist': ({ local, next }) =>
    `${time(local)} does not exist on that day: the clocks go forward. The next time there is ${time(next)}.`,
  'stop-before-start': 'It would stop before it starts. Choose a later stop.',
  'too-long-event': ({ hours }) => `An event may last ${hours} hours. Plan a second one after it.`,
  'rule-not-a-rule': 'This is no rule we can read. One looks like this: FREQ=WEEKLY;BYDAY=SU (every Sunday).',
  'rule-part-unknown': ({ part }) =>
    `A series repeats by days, weeks, months or years: ${part} cannot be part of its rule.`,
  'rule-too-large': ({ part, most }) => `${part} may be ${most} at most.`,
  'rule-without-dates': 'This rule gives no date in five years. Look at its day and month again.',
  'first-date-far': ({ years }) => `A series begins within ${years} years of today. Look at the year again.`,
  'no-such-date': 'There is no such date. Choose one from the calendar.',
  'time-is-over': 'Its time is over. Plan another like it instead.',
  'nothing-of-its-own': 'This date is as its series says: there is nothing to bring to the others.',
  'date-of-its-own':
    'Somebody changed this date by itself. Open it, and cancel or delete it there: then nothing is lost.',
  'another-day':
    'This date was moved to another day, and that is its alone. To move them all, change the days of the series.',
  'unknown-person': 'One of these people has left the house. Load the page again and choose once more.',
  'somebody-stands-in': 'Somebody else has been asked meanwhile. Speak to them, or to whoever plans.',
  'no-such-item': 'This item is gone. Load the page again.',
  'no-source-to-rehearse': 'Choose where the picture comes from first; that stands in Plan.',
  'rehearsing-already': 'A rehearsal of this event is on already. End it first, or watch it.',
  'doors-too-near':
    'The next event on this source opens its doors in a few minutes. Rehearse with another source.',
  'unknown-place': 'One of these places is gone. Load the page again and choose once more.',
  'file-empty': 'There is nothing in this file. Choose it once more.',
  'file-too-large': ({ most }) =>
    `This file is too large: ${sizeWords(Number(most))} at most. Save it smaller.`,
  'file-nameless': 'This file has no name. Give it one, then choose it again.',
  'file-no-space':
    'There is not enough room on the server for this. Empty the bin, or let old recordings go. What is on air goes on.',
  'file-in-use': ({ title }) => `“${title}” uses this file. Choose another there first.`,
  'file-moved-on': 'This has already happened. Look at it as it is now.',
  'file-no-film': 'This is no film that can be played any more. Choose another.',
  'file-no-picture': 'This is no picture that can be used any more. Choose another.',
  'address-taken': ({ slug }) => `The address ${slug} is taken. Choose another.`,
  'poster-missing': 'No picture came. Choose one and try again.',
  'poster-no-picture': 'This file is no picture we can read. Choose a JPEG, PNG or WebP.',
  'poster-too-small': ({ width, least }) =>
    `This picture is ${width} pixels wide and would look blurred. Choose one of at least ${least}.`,
  'too-many-channels': ({ most }) => `A house has ${most} channels at most. Delete one that is not used.`,
  'source-in-use': ({ title }) => `“${title}” uses this source. Choose another for it first.`,
  'its-own-source': 'It would show itself. Choose another source.',
  'shown-missing': 'Choose what this source shows.',
  'source-of-box': ({ name }) =>
    `The box “${name}” sends to this source. Let it go, or give it another source first.`,
  'pairing-code-wrong':
    'No box shows this code just now. Look at its screen again; a code lasts ten minutes.',
  'srt-ports-taken': ({ most }) =>
    `All ${most} ports for SRT are in use. Close it at a source that does not need it.`,
  'source-takes-no-camera': 'This source shows something of the house; nobody sends to it. Choose another.',
  'guest-event-over': ({ title }) => `“${title}” is over. Invite guests to another event.`,
  'guests-too-many': ({ most }) =>
    `An event takes ${most} guests at most. Take back a link that is not used.`,
  'guest-link-over': ({ title }) => `“${title}” is over. Thank you for having been part of it.`,
  'guest-link-withdrawn': 'This link was taken back. Ask whoever invited you for another.',
  'guest-link-elsewhere':
    'This link was opened on another device, and belongs to it. Open it there, or ask for another.',
  'place-in-use': ({ title }) => `“${title}” goes to this place. Take it out there first.`,
  'address-empty': 'Paste the whole address, as the place shows it.',
  'address-too-long': 'This is too long for an address. Copy it again, only the address.',
  'address-has-spaces': 'There is a space in this address. Copy it again without the space.',
  'address-no-scheme': 'An address begins with rtmp:// . Copy it again from its start.',
  'address-wrong-scheme': 'Only addresses that begin with rtmp:// or rtmps:// can take the picture.',
  'address-no-host': 'The part after rtmp:// is no name of a machine. Copy the address again.',
  'address-bad-port': 'The port is no number from 1 to 65535.',
  'address-no-application': 'The address ends too early: after the machine come an application and the key.',
  'address-no-stream-name': 'The key is missing at the end of the address.',
  'address-bad-login':
    'Name and password are not written as the place needs them: both, and without spaces or slashes.',
  'chat-before': 'The chat opens with the doors. What you typed is still here.',
  'chat-closed': 'The chat has closed. What was said can still be read.',
  'chat-off': 'There is no chat at this event.',
  'chat-not-joined': 'Say your name again to go on; what you typed is still here.',
  'chat-too-quick': ({ seconds }) =>
    `A little slower, please: you can send this in ${seconds} s. It is still here.`,
  'chat-too-many-join': ({ seconds }) => `Many are coming in at once. Try again in ${seconds} s.`,
  'chat-name-empty': 'Write the name by which others will know you.',
  'chat-name-too-long': ({ limit }) => `A name may have ${limit} letters.`,
  'chat-text-empty': 'There is nothing to send yet.',
  'chat-text-too-long': ({ length, limit }) =>
    `This has ${length} characters; ${limit} are the most. It is still here: shorten it, or send it in two.`,
};

const STATES: Readonly<Record<string, string>> = {
  planned: 'planned',
  doors: 'open',
  air: 'on air',
  kept: 'over',
  cancelled: 'cancelled',
};

const time = (local: string | number | undefined): string => String(local ?? '').slice(11, 16);

const OFFLINE = 'We cannot reach the house just now. What is on air goes on. We keep trying.';

/** The sentence for whatever a request threw. */
export function problemSentence(error: unknown): string {
  if (error instanceof OfflineError) return OFFLINE;
  if (!(error instanceof ApiError)) return sentenceFor('fault');
  return sentenceFor(error.problem.code, error.problem.params);
}

export function sentenceFor(code: string, params: Params = {}): string {
  const sentence = SENTENCES[code] ?? SENTENCES.fault!;
  return typeof sentence === 'string' ? sentence : sentence(params);
}

/** The sentence for one field of a form; `null` when nothing is wrong with it. */
export function fieldSentence(error: unknown, field: string): string | null {
  if (!(error instanceof ApiError)) return null;
  const found = error.problem.fields?.find(({ path }) => path === field);
  if (!found) return null;
  return error.problem.code === 'fields-wrong'
    ? fieldRule(found.message)
    : sentenceFor(error.problem.code, error.problem.params);
}

function fieldRule(rule: string): string {
  if (/empty|required/.test(rule)) return 'This is needed.';
  if (/max/.test(rule)) return 'This is too long.';
  if (/string\.min/.test(rule)) return 'This is too short.';
  if (/min|integer|base/.test(rule)) return 'This number is not possible here.';
  if (/pattern/.test(rule)) return 'This is not written as it has to be.';
  if (/email/.test(rule)) return 'This is no email address.';
  return 'This is not possible here.';
}
