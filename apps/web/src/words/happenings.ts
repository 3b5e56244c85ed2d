import { settingWords } from './event-settings.js';
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
  'film-skipped': 'skipped the rest of its opening film',
  'poster-changed': 'got a new poster',
  'place-paused': 'stopped going to one of its places',
  'place-resumed': 'started going to one of its places again',
  'recording-stopped': 'stopped being recorded',
  'recording-resumed': 'is being recorded again',
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
  'house-edited': 'was changed',
  undone: 'was undone',
};

const SUBJECTS: Readonly<Record<SubjectKind, string>> = {
  event: 'An event',
  source: 'A source',
  destination: 'A place',
  recording: 'A recording',
  chat: 'A chat message',
  person: 'Somebody',
  house: 'The house',
  series: 'A series',
  channel: 'A channel',
  file: 'A file',
  box: 'A box',
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
  logoSvg: 'logo',
  accent: 'main colour',
  accentWarm: 'warm colour',
  slateWords: 'words of the slate',
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
