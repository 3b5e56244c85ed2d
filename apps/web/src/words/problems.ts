import { ApiError, OfflineError } from '../data/api.js';
import { sizeWords } from './sizes.js';

type Params = Readonly<Record<string, string | number>>;
type Sentence = string | ((params: Params) => string);

/** What went wrong, in words: what happened, what still works, what to do. One catalogue, en-GB. */
const SENTENCES: Readonly<Record<string, Sentence>> = {
  fault: 'Something went wrong on our side. Nothing was lost. Try again in a moment.',
  'database-away': 'The database is not responding. Anything on air carries on. Try again in a moment.',
  'standby-is-first': 'This is the first source already. Choose another to stand by.',
  'standby-is-film': 'A film cannot stand by. Choose an encoder or another programme.',
  'clip-not-on-air':
    'A clip can be saved while the event is on air. Afterwards, the whole recording is in the archive.',
  'clip-of-rehearsal': 'A rehearsal keeps no clips. Its recording is under “Rehearse”.',
  'clip-in-the-making': 'A clip of this moment is being saved already.',
  'not-of-the-desk': 'Their role does not let them run the desk. Ask an owner to change it.',
  'size-too-heavy': ({ name }) =>
    `No media node here has the processor time for ${name}. Choose a smaller size.`,
  'size-not-smaller': ({ name }) =>
    `Your pictures are no larger than ${name}, so it would never be made. Choose a smaller size.`,
  'no-such-sound': 'This sound is not among the files any more, or not ready yet. Choose another.',
  'place-of-address': 'Nothing is posted at a place with an address of its own.',
  'place-of-outlet':
    'This place belongs to a linked account. Untick it there, under “Where it goes”, or link the account again.',
  'link-not-asked':
    'This answer belongs to a question that is too old, or was not yours. Link the account again.',
  'link-denied': ({ platform }) =>
    `${platform} says that the consent was not given. Nothing has been linked. You can try again at any time.`,
  'link-other-account': ({ linked, given }) =>
    `You gave the consent as ${given}, but the account linked here is ${linked}. Sign in there as ${linked}, or link ${given} as a new account.`,
  'platform-away': ({ platform }) =>
    `${platform} is not answering as it should. Nothing has been changed. Try again in a few minutes.`,
  'posting-not-ended': 'Nothing has ended there. Reload the page.',
  'place-on-air': ({ name, title }) => `“${title}” goes out at ${name} just now. Try it when that is over.`,
  'account-on-air': ({ title }) =>
    `“${title}” goes out with this account just now. Unlink it when that is over.`,
  'postings-stay': ({ platform, count }) =>
    `${platform} did not take down ${count === 1 ? 'a posting' : `${count} postings`}. Events do not go there any more; the account is still linked. Try again in a while, or leave the postings there.`,
  'account-ended': ({ name, platform }) =>
    `The consent of ${name} at ${platform} has ended. Link the account again; its outlets are kept.`,
  'not-over': 'The report is written once the event is over.',
  'not-found': 'There is nothing at this address any more.',
  'not-signed-in': 'You have been signed out. Sign in again; nothing you typed is lost.',
  'wrong-sign-in': 'That email address or password is wrong. Try again, and check your capital letters.',
  'second-factor-needed': 'Enter the six-digit code from your phone, or a recovery code.',
  'second-factor-wrong': 'This code is wrong or has already been used. Wait for the next one.',
  'second-factor-there': 'Two-step sign-in is already on. Switch it off first.',
  'code-wrong': 'This code is wrong. Enter the six-digit code from your phone.',
  'too-many-letters': ({ seconds }) => `Too many emails have just been sent. Try again in ${seconds} s.`,
  'member-already': 'Somebody with this address is already a member.',
  'last-owner': 'Every house needs an owner. Make somebody else an owner first.',
  'link-used-up': 'This link has expired or already been used. Ask for a new one.',
  'password-missing': 'Choose a password of at least twelve characters.',
  'password-wrong': 'That password is wrong.',
  'house-name-wrong': 'That is not the name of the house. Type it exactly as it appears above.',
  'house-on-air': ({ title }) => `“${title}” is on air. End it first.`,
  'undone-already': 'This was undone already.',
  'not-to-be-undone': 'This cannot be undone.',
  'nothing-to-undo': 'There is nothing of yours to take back here.',
  'changed-since': 'It has been changed again since then. Check how it is now, and change it by hand.',
  'not-in-the-bin': 'Only things in the bin can be deleted for good.',
  'not-a-cursor': 'This list has changed. Load the page again.',
  'too-many-tries': ({ seconds }) => `Too many attempts. Wait ${seconds} s, then try again.`,
  'not-allowed': 'Your role lets you see this but not change it. Ask an owner or producer.',
  'other-origin': 'This request came from another website, so it was refused.',
  'changed-meanwhile':
    'Somebody else changed this at the same time. Your text is still here; look at theirs, then save again.',
  'taken-meanwhile': 'Somebody else did the same thing at the same moment. Try again.',
  'control-character': 'This contains a character that cannot be saved. Paste it as plain text, or type it.',
  'public-address-unknown': ({ host }) =>
    `No email was sent, because ${host} is not an address we know. Open this page at its usual address, or ask your administrator to set HELIPHON_PUBLIC_URL.`,
  'channel-on-air': ({ title }) =>
    `“${title}” is on air in this channel. Delete the channel once it has finished.`,
  'version-needed': 'This page is out of date. Reload it and try again.',
  'moved-meanwhile': ({ state }) => `Too late: the event is ${STATES[String(state)] ?? state} now.`,
  'too-late-to-change': 'This cannot be changed once the doors are open. Everything else still can.',
  'draft-too-late': 'Its date has passed. Choose a new one, then publish it.',
  'still-a-draft': 'This is still a draft. Publish it before it goes on air.',
  'not-planned-any-more': 'Only an event that has not started can be deleted.',
  'fields-wrong': 'Something is missing or too long. Check the fields marked below.',
  'too-large': 'This file is too large. The limit is shown next to the field.',
  'calendar-unreadable':
    'We could not read this as a calendar. Choose a file ending in .ics, or paste all of its text.',
  'calendar-too-much':
    'This calendar takes too long to read. Export a shorter period from the other calendar and try again.',
  'calendar-too-many': ({ most }) =>
    `This calendar has more than ${most} entries. Export a shorter period from the other calendar.`,
  'no-such-zone': 'That time zone does not exist. Choose one from the list.',
  'time-malformed': 'This is not a valid date and time.',
  'time-no-such-zone': 'That time zone does not exist.',
  'time-does-not-exist': ({ local, next }) =>
    `${time(local)} does not exist on that day, because the clocks go forward. The next possible time is ${time(next)}.`,
  'stop-before-start': 'The end is before the start. Choose a later end.',
  'too-long-event': ({ hours }) => `An event can last up to ${hours} hours. Plan a second one to follow it.`,
  'rule-not-a-rule':
    'We could not read this rule. A rule looks like this: FREQ=WEEKLY;BYDAY=SU (every Sunday).',
  'rule-part-unknown': ({ part }) =>
    `A series repeats by days, weeks, months or years, so ${part} cannot be part of its rule.`,
  'rule-too-large': ({ part, most }) => `${part} can be at most ${most}.`,
  'rule-without-dates': 'This rule gives no dates in the next five years. Check its day and month.',
  'first-date-far': ({ years }) => `A series has to begin within ${years} years of today. Check the year.`,
  'no-such-date': 'That date does not exist. Choose one from the calendar.',
  'time-is-over': 'Its date has passed. Plan another like it instead.',
  'nothing-of-its-own': 'This date is the same as its series, so there is nothing to copy to the others.',
  'date-of-its-own':
    'Somebody changed this date on its own. Open it and cancel or delete it there, so that nothing is lost.',
  'another-day':
    'This date was moved to another day on its own. To move them all, change the days of the series.',
  'unknown-person': 'One of these people has left the house. Reload the page and choose again.',
  'somebody-stands-in':
    'Somebody else has been asked in the meantime. Speak to them, or to whoever does the rota.',
  'no-such-item': 'This item has been removed. Reload the page.',
  'no-source-to-rehearse': 'First choose where the picture comes from, under Plan.',
  'rehearsing-already': 'A rehearsal of this event is already running. End it first, or watch it.',
  'doors-too-near':
    'The next event on this source opens its doors in a few minutes. Rehearse with another source.',
  'name-taken': 'There is another of this name. Choose a different one.',
  'too-many-place-sets': ({ most }) => `There are ${most} sets already. Delete one that is not used.`,
  'unknown-place': 'One of these places has been removed. Reload the page and choose again.',
  'file-empty': 'This file is empty. Choose it again.',
  'file-too-large': ({ most }) =>
    `This file is too large; the limit is ${sizeWords(Number(most))}. Save a smaller version.`,
  'file-nameless': 'This file has no name. Give it one, then choose it again.',
  'file-no-space':
    'There is not enough room on the server for this. Empty the bin or delete old recordings. Anything on air carries on.',
  'file-too-many-uploads': ({ most }) =>
    `${most} files are already being uploaded. Wait for one to finish, or stop one.`,
  'file-in-use': ({ title }) => `“${title}” uses this file. Choose another there first.`,
  'file-moved-on': 'This has already been done. Reload to see it as it is now.',
  'file-no-film': 'This film can no longer be played. Choose another.',
  'file-no-picture': 'This picture can no longer be used. Choose another.',
  'address-taken': ({ slug }) => `The address ${slug} is taken. Choose another.`,
  'poster-missing': 'No picture was received. Choose one and try again.',
  'poster-no-picture': 'We could not read this as a picture. Choose a JPEG, PNG or WebP file.',
  'poster-too-small': ({ width, least }) =>
    `This picture is ${width} pixels wide and would look blurred. Choose one at least ${least}.`,
  'too-many-channels': ({ most }) => `A house can have up to ${most} channels. Delete one you no longer use.`,
  'source-in-use': ({ title }) => `“${title}” uses this source. Choose another for it first.`,
  'its-own-source': 'This source would show itself. Choose another one.',
  'shown-missing': 'Choose what this source shows.',
  'source-of-box': ({ name }) =>
    `The box “${name}” sends to this source. Disconnect it, or give it another source first.`,
  'pairing-code-wrong': 'No box is showing this code. Check its screen; a code lasts ten minutes.',
  'srt-ports-taken': ({ most }) =>
    `All ${most} SRT ports are in use. Switch SRT off for a source that does not need it.`,
  'source-takes-no-camera':
    'Nobody can send to this source, because it shows something of your own. Choose another.',
  'guest-event-over': ({ title }) => `“${title}” has finished. Invite guests to another event.`,
  'guests-too-many': ({ most }) =>
    `An event can have up to ${most} guests. Withdraw a link that is not being used.`,
  'place-in-use': ({ title }) => `“${title}” goes to this place. Take the place out of that event first.`,
  'address-empty': 'Paste the whole address, exactly as the place shows it.',
  'address-too-long': 'This is too long for an address. Copy just the address and paste it again.',
  'address-has-spaces': 'There is a space in this address. Copy it again without the space.',
  'address-no-scheme': 'An address begins with rtmp://. Copy it again from the beginning.',
  'address-wrong-scheme': 'Only addresses that begin with rtmp:// or rtmps:// can take the picture.',
  'address-no-host': 'The part after rtmp:// is not a server name. Copy the address again.',
  'address-bad-port': 'The port must be a number from 1 to 65535.',
  'address-no-application':
    'The address is incomplete: after the server there should be an application and a key.',
  'address-no-stream-name': 'The key is missing at the end of the address.',
  'address-inner':
    'This address is in our own network, where this installation sends nothing. Ask the person who looks after it, or use another address.',
  'address-bad-login': 'Enter both the name and the password, without spaces or slashes.',
  'chat-before': 'The chat opens with the doors. What you typed is still here.',
  'chat-closed': 'The chat has closed. What was said can still be read.',
  'chat-off': 'There is no chat at this event.',
  'language-no-file':
    'This is no language file of ours. Start from one that you download here, and change only what stands after the colons.',
  'language-not-json': ({ line }) =>
    `This file cannot be read: something is wrong near line ${line}, often a missing comma or quotation mark. Nothing was changed.`,
  'language-too-large': 'This file is larger than a language can be. Choose the one you made here.',
  'language-version':
    'This file was made for another version of ours. Download a new one and copy your words into it.',
  'language-tag':
    'The file does not say which language it is. Put its short name at “tag”, such as “cy” or “pt-BR”.',
  'language-name': 'The file does not say what the language is called. Put that at “name”.',
  'language-in-use': 'Your pages speak this language. Choose another one first.',
  'languages-too-many': ({ most }) =>
    `A house can have up to ${most} languages of its own. Remove one first.`,
  'no-such-language': 'This language is not there any more. Choose another.',
  'ground-missing': 'No picture came with it. Choose one again.',
  'ground-no-picture': 'This is no picture that we can read. Choose a JPEG, a PNG or a WebP.',
  'ground-too-many-pixels': ({ width, height }) =>
    `This picture is ${width} by ${height}, far larger than any screen. Save it smaller, 1920 across is enough.`,
  'ground-too-small': ({ least }) =>
    `This picture is too small to lie behind a page: ${least} pixels each way are needed.`,
  'logo-missing': 'No picture came with it. Choose one again.',
  'logo-no-picture': 'This is no picture that we can read. Choose an SVG, a PNG, a JPEG or a WebP.',
  'logo-too-large': ({ kilobytes }) =>
    `This drawing is larger than ${kilobytes} kB. Export it again in a simpler form, or as a PNG.`,
  'logo-too-much': 'This drawing has too many parts. Export it again in a simpler form, or as a PNG.',
  'logo-too-many-pixels': ({ width, height }) =>
    `This picture has ${width} by ${height} pixels, more than we can open. Make it smaller: 1000 by 1000 is plenty.`,
  'logo-too-small': ({ least }) => `This picture has fewer than ${least} pixels. Choose a larger one.`,
  'logo-not-let-in': ({ name }) =>
    `The drawing contains something that does not only draw: ${name}. Export it again as a plain SVG, or as a PNG.`,
  'viewers-too-many': ({ most }) =>
    `Up to ${most} people can be invited here. Nobody of this list has been invited yet; make it shorter.`,
  'viewer-no-page': 'There is no page to lead to yet. Plan an event first.',
  'not-admitted': 'This is only for those who may watch. Reload the page.',
  'chat-not-joined': 'Enter your name again to carry on. What you typed is still here.',
  'chat-too-quick': ({ seconds }) =>
    `A little slower, please. You can send this in ${seconds} s; it is still here.`,
  'chat-too-many-join': ({ seconds }) => `Lots of people are joining at once. Try again in ${seconds} s.`,
  'chat-name-empty': 'Enter the name others will see.',
  'chat-name-too-long': ({ limit }) => `A name can have up to ${limit} letters.`,
  'chat-text-empty': 'Type something first.',
  'chat-text-too-long': ({ length, limit }) =>
    `This has ${length} characters and the limit is ${limit}. Shorten it, or send it as two messages.`,
};

const STATES: Readonly<Record<string, string>> = {
  planned: 'planned',
  doors: 'open',
  air: 'on air',
  kept: 'over',
  cancelled: 'cancelled',
};

const time = (local: string | number | undefined): string => String(local ?? '').slice(11, 16);

const OFFLINE = 'We cannot reach the server at the moment. Anything on air carries on. We will keep trying.';

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
  if (/number/.test(rule)) return 'This number is out of range.';
  if (/unique/.test(rule)) return 'This is there twice.';
  if (/max/.test(rule)) return 'This is too long.';
  if (/string\.min/.test(rule)) return 'This is too short.';
  if (/min|integer|base/.test(rule)) return 'This number is out of range.';
  if (/pattern/.test(rule)) return 'This is not in the right form.';
  if (/email/.test(rule)) return 'This is not an email address.';
  return 'This cannot be used here.';
}
