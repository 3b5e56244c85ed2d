import { settingWords, sizesInWords } from './event-settings.js';
import type { HappeningKind, SubjectKind } from '@heliphon/contracts/happenings';
import type { Role } from '@heliphon/core/access/capabilities';
import { readRule } from '@heliphon/core/schedule/recurrence';
import { dayAndTime, duration } from '@heliphon/contracts/time-words';
import { repeatWords } from './repeats.js';
import { ROLE_WORDS } from './roles.js';

/** What each kind of happening means, in the past tense; the subject's name goes before it. en-GB. */
const KINDS: Readonly<Record<HappeningKind, string>> = {
  'event-planned': 'was planned',
  'event-edited': 'was changed',
  'event-deleted': 'was deleted',
  'event-doors': 'opened its doors',
  'event-air': 'went on air',
  'event-kept': 'ended',
  'event-cancelled': 'was cancelled',
  'event-reinstated': 'was reinstated',
  'event-went-over': 'moved to another ingest point',
  'series-planned': 'was planned as a series',
  'series-edited': 'was changed for all future dates',
  'series-dates-made': 'got new dates',
  'date-skipped': 'lost a date',
  'date-taken-up': 'got a date back',
  'duty-accepted': 'had somebody say they can come',
  'duty-refused': 'had somebody say they cannot come',
  'order-written': 'got a new order',
  'order-moved': 'moved on to another item',
  'rehearsal-started': 'was rehearsed in private',
  'rehearsal-kept': 'was kept as an event of its own',
  'feed-chosen': 'was switched to its other source by hand',
  'film-skipped': 'skipped the rest of its opening film',
  'poster-changed': 'got a new poster',
  'place-paused': 'stopped going to one of its places',
  'place-resumed': 'started going to one of its places again',
  'place-size': 'chose another size of picture for one of its places',
  'recording-stopped': 'stopped being recorded',
  'recording-resumed': 'is being recorded again',
  'desk-taken': 'changed hands at the desk',
  'desk-left': 'was left without anybody in charge of the desk',
  'note-written': 'got a note from the desk',
  'note-edited': 'had a note changed',
  'note-removed': 'had a note removed',
  'fault-began': 'had something go wrong on air',
  'fault-over': 'has got over something that went wrong',
  'source-added': 'was added',
  'source-edited': 'was changed',
  'source-deleted': 'was deleted',
  'source-came': 'started sending',
  'source-went': 'stopped sending',
  'source-refused': 'was turned away',
  'key-renewed': 'got a new key',
  'source-advised': 'got a new recommendation',
  'secret-unreadable': 'has a key that can no longer be read',
  'line-opened': 'was opened for a browser',
  'guest-invited': 'was given a guest link',
  'guest-link-opened': 'had its guest link opened',
  'guest-withdrawn': 'had its guest link withdrawn',
  'box-paired': 'was paired',
  'box-edited': 'was changed',
  'box-let-go': 'was disconnected',
  'destination-added': 'was added',
  'destination-edited': 'was changed',
  'destination-deleted': 'was deleted',
  'destination-key-shown': 'had its key shown',
  'place-set-added': 'was added',
  'place-set-edited': 'was changed',
  'place-set-deleted': 'was deleted',
  'account-linked': 'was linked',
  'account-linked-again': 'was linked again',
  'account-unlinked': 'was unlinked',
  'account-ended': 'took back its consent, or let it run out',
  'outlet-chosen': 'got another outlet that may be used',
  'outlet-let-go': 'lost an outlet that could be used',
  'test-send-begun': 'tries out one of its places',
  'test-send-over': 'has tried out one of its places',
  'posting-words-changed': 'says something else at one of its places',
  'place-unlinked': 'does not go to a place any more whose account was unlinked',
  'posting-made': 'was posted at one of its places',
  'posting-ended': 'was ended at one of its places by the platform',
  'posting-begun': 'was begun at one of its places',
  'posting-taken-down': 'was taken down at one of its places',
  'file-added': 'was uploaded',
  'file-ready': 'is ready to use',
  'file-refused': 'cannot be used',
  'file-stopped': 'had its conversion stopped',
  'file-made-again': 'is being converted again',
  'file-edited': 'was renamed',
  'file-binned': 'was put in the bin',
  'file-restored': 'was taken out of the bin',
  'channel-added': 'was added as a channel',
  'channel-edited': 'was changed',
  'channel-deleted': 'was deleted as a channel',
  'clip-saved': 'was saved as a clip',
  'clip-kept': 'was made',
  'clip-failed': 'had a clip fail: there was no picture',
  'recording-kept': 'was recorded',
  'recording-joined': 'got the part recorded at another ingest point',
  'recording-edited': 'was changed',
  'recording-binned': 'was put in the bin',
  'recording-restored': 'was taken out of the bin',
  'recording-deleted': 'was deleted for good',
  'message-hidden': 'was hidden',
  'message-restored': 'was put back',
  'chat-person-hidden': 'was hidden, with all their messages',
  'chat-person-restored': 'was put back, with their messages',
  'person-invited': 'was invited',
  'person-joined': 'joined the house',
  'person-removed': 'was removed from the house',
  'invitation-withdrawn': 'had their invitation withdrawn',
  'roles-changed': 'was given different roles',
  'password-renewed': 'chose a new password',
  'webhook-set': 'was given a webhook',
  'webhook-removed': 'lost its webhook',
  'house-edited': 'was changed',
  'language-kept': 'was kept',
  'language-removed': 'was removed',
  'house-look-set': 'looks different now',
  'look-set': 'looks different now',
  'house-watching-set': 'may be watched by others than before',
  'watching-set': 'may be watched by others than before',
  'watch-password-set': 'has a new password for viewers',
  'watch-password-removed': 'has no password for viewers any more',
  'viewers-invited': 'had people invited to watch',
  'viewer-withdrawn': 'had an invitation to watch withdrawn',
  undone: 'was undone',
};

const SUBJECTS: Readonly<Record<SubjectKind, string>> = {
  event: 'An event',
  source: 'A source',
  destination: 'A place',
  recording: 'A recording',
  chat: 'A chat message',
  person: 'Somebody',
  language: 'A language of the pages',
  house: 'The house',
  series: 'A series',
  channel: 'A channel',
  file: 'A file',
  box: 'A box',
  'place-set': 'A set of places',
  account: 'An account',
};

type Facts = Readonly<Record<string, unknown>>;

const nameIn = (facts: unknown): string | null => {
  if (typeof facts !== 'object' || facts === null) return null;
  const { title, name, email, event } = facts as Facts;
  const found = [title, name, email].find((value) => typeof value === 'string');
  return typeof found === 'string' ? found : nameIn(event);
};

/** `“Harbour Blessing” was changed`. */
export function happeningWords(entry: {
  readonly kind: HappeningKind;
  readonly subjectKind: SubjectKind;
  readonly subjectName: string | null;
  readonly before: unknown;
  readonly after: unknown;
}): string {
  const name = nameIn(entry.after) ?? nameIn(entry.before) ?? entry.subjectName;
  const subject = name ? `“${name}”` : SUBJECTS[entry.subjectKind];
  return `${subject} ${KINDS[entry.kind]}`;
}

/** Who did it; what did it by itself has a name too. */
export function actorWords(by: string, byName: string | null): string {
  if (byName) return byName;
  return { clock: 'the clock', node: 'the media node', system: 'Heliphon' }[by] ?? 'somebody who has left';
}

/** What follows from other fields, or says nothing to people. */
const UNTOLD = new Set(['version', 'series', 'eventIds', 'ownFields', 'openChecks', 'id', 'houseId']);

interface Difference {
  readonly field: string;
  readonly before: string;
  readonly after: string;
}

/** The fields that differ, as before and after; instants in the house’s zone, long lists and texts cut. */
export function differences(before: unknown, after: unknown, zone?: string): Difference[] {
  if (!isFacts(before) || !isFacts(after)) return [];
  return Object.keys(after)
    .filter((field) => !UNTOLD.has(field) && JSON.stringify(before[field]) !== JSON.stringify(after[field]))
    .map((field) => ({
      field: fieldWords(field),
      before: valueWords(field, before[field], zone),
      after: valueWords(field, after[field], zone),
    }));
}

const isFacts = (value: unknown): value is Facts =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const FIELDS: Readonly<Record<string, string>> = {
  slug: 'address of its page',
  startsAtMs: 'start',
  startsAtLocal: 'start',
  stopsAtMs: 'end',
  stopsAtLocal: 'end',
  zone: 'time zone',
  filmId: 'opening film',
  filmMs: 'length of the opening film',
  ...settingWords('inRecord'),
  destinationIds: 'places',
  pausedDestinationIds: 'places paused',
  rule: 'repeats',
  lengthMinutes: 'length, minutes',
  timeOfDay: 'time',
  firstDate: 'first date',
  turns: 'taking turns',
  duties: 'rota',
  items: 'order',
  rules: 'chat rules',
  accent: 'main colour',
  accentWarm: 'warm colour',
  look: 'look',
  slateWords: 'words of the slate',
  slateSoundId: 'sound of the slate',
  ownSizes: 'sizes of its own',
  keepsGaps: 'slate in the replay',
};

const fieldWords = (field: string): string =>
  FIELDS[field] ??
  field.replace(/(AtMs|Ms|Id|Ids|Local)$/, '').replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

const SHOWN = 80;
const IDENTIFIER = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
const list = new Intl.ListFormat('en-GB');

/** A value as people read it: what goes by identifiers or has parts is counted, never spelt out. */
function valueWords(field: string, value: unknown, zone: string | undefined): string {
  if (value === null || value === undefined || value === '') return 'none';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (typeof value === 'number') return field.endsWith('Ms') ? timeWords(value, zone) : String(value);
  if (Array.isArray(value)) return listWords(field, value as unknown[]);
  if (typeof value !== 'string') return 'changed';
  if (field === 'rule') return ruleWords(value);
  if (field === 'renditions') return sizesInWords(value);
  if (IDENTIFIER.test(value)) return 'another';
  return value.length > SHOWN ? `${value.slice(0, SHOWN)} …` : value;
}

const timeWords = (ms: number, zone: string | undefined): string =>
  ms > 1e12 ? dayAndTime(ms, zone) : duration(ms);

function ruleWords(rule: string): string {
  const read = readRule(rule);
  return read.ok ? repeatWords(read.value) : rule;
}

function listWords(field: string, values: readonly unknown[]): string {
  if (values.length === 0) return 'none';
  if (field === 'roles') return list.format(values.map((role) => ROLE_WORDS[role as Role].name));
  const texts = values.filter((value): value is string => typeof value === 'string');
  return texts.length === values.length && !texts.some((text) => IDENTIFIER.test(text))
    ? list.format(texts)
    : String(values.length);
}
