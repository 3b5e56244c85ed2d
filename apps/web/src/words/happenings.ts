import { dayAndTime } from '@heliphon/contracts/time-words';

/** What each kind of happening means, in the past tense; the subject's name goes before it. en-GB. */
const KINDS: Readonly<Record<string, string>> = {
  'event-planned': 'was planned',
  'event-edited': 'was changed',
  'event-deleted': 'was deleted',
  'event-doors': 'opened its doors',
  'event-air': 'went on air',
  'event-kept': 'ended',
  'event-cancelled': 'was cancelled',
  'event-reinstated': 'takes place after all',
  'event-went-over': 'goes on at another ingest point',
  'series-planned': 'was planned as a series',
  'series-edited': 'was changed for all its dates',
  'series-dates-made': 'got new dates',
  'date-skipped': 'leaves a date out',
  'date-taken-up': 'has a date after all',
  'duty-accepted': 'has somebody who will come',
  'duty-refused': 'has somebody who cannot come',
  'order-written': 'got another order',
  'order-moved': 'was moved on to another item',
  'rehearsal-started': 'was rehearsed in private',
  'rehearsal-kept': 'is kept as an event of its own',
  'film-skipped': 'went on without the rest of its film',
  'poster-changed': 'got another poster',
  'place-paused': 'left a place out for now',
  'place-resumed': 'took a place in again',
  'recording-stopped': 'is not being recorded any more',
  'recording-resumed': 'is being recorded again',
  'source-added': 'was added',
  'source-edited': 'was changed',
  'source-deleted': 'was deleted',
  'source-came': 'began to send',
  'source-went': 'stopped sending',
  'source-refused': 'was turned away',
  'key-renewed': 'got a new key',
  'source-advised': 'was advised another picture',
  'line-opened': 'was opened for a browser',
  'guest-invited': 'was invited to send',
  'guest-link-opened': 'opened the link to send',
  'guest-withdrawn': 'has a link no more',
  'box-paired': 'was paired',
  'box-edited': 'was changed',
  'box-let-go': 'was let go',
  'destination-added': 'was added',
  'destination-edited': 'was changed',
  'destination-deleted': 'was deleted',
  'destination-key-shown': 'had its key shown',
  'file-added': 'was uploaded',
  'file-ready': 'can be used',
  'file-refused': 'cannot be used',
  'file-stopped': 'is not being made playable any more',
  'file-made-again': 'is being made playable again',
  'file-edited': 'was renamed',
  'file-binned': 'was put in the bin',
  'file-restored': 'came back from the bin',
  'channel-added': 'was made a channel',
  'channel-edited': 'was changed',
  'channel-deleted': 'is no channel any more',
  'recording-kept': 'was kept',
  'recording-joined': 'got the part that lay at another ingest point',
  'recording-edited': 'was changed',
  'recording-binned': 'was put in the bin',
  'recording-restored': 'came back from the bin',
  'recording-deleted': 'was deleted for good',
  'message-hidden': 'was hidden',
  'message-restored': 'was put back',
  'chat-person-hidden': 'was hidden with all their messages',
  'chat-person-restored': 'was put back with their messages',
  'person-invited': 'was invited',
  'person-joined': 'joined the house',
  'person-removed': 'was taken out of the house',
  'invitation-withdrawn': 'is not invited any more',
  'roles-changed': 'has other roles',
  'password-renewed': 'chose a new password',
  'house-edited': 'was changed',
  undone: 'was taken back',
};

const SUBJECTS: Readonly<Record<string, string>> = {
  event: 'An event',
  source: 'A source',
  destination: 'A place',
  recording: 'A recording',
  chat: 'Something in a chat',
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
  readonly kind: string;
  readonly subjectKind: string;
  readonly subjectName: string | null;
  readonly before: unknown;
  readonly after: unknown;
}): string {
  const name = nameIn(entry.after) ?? nameIn(entry.before) ?? entry.subjectName;
  const subject = name ? `“${name}”` : (SUBJECTS[entry.subjectKind] ?? 'Something');
  return `${subject} ${KINDS[entry.kind] ?? entry.kind.replaceAll('-', ' ')}`;
}

/** Who did it; what did it by itself has a name too. */
export function actorWords(by: string, byName: string | null): string {
  if (byName) return byName;
  return { clock: 'the clock', node: 'the media node', system: 'Heliphon' }[by] ?? 'somebody who has left';
}

/** What follows from other fields, or says nothing to people. */
const UNTOLD = new Set(['version', 'series', 'eventIds']);

/** The fields that differ, as before and after; instants in the house's zone, long lists and texts cut. */
export function differences(
  before: unknown,
  after: unknown,
  zone?: string,
): { field: string; before: string; after: string }[] {
  if (typeof before !== 'object' || before === null || typeof after !== 'object' || after === null) return [];
  const [was, is] = [before as Facts, after as Facts];
  return Object.keys(is)
    .filter((field) => !UNTOLD.has(field) && JSON.stringify(was[field]) !== JSON.stringify(is[field]))
    .map((field) => ({
      field: fieldWords(field),
      before: shown(was[field], zone),
      after: shown(is[field], zone),
    }));
}

const fieldWords = (field: string): string =>
  field.replace(/(Ms|Id|Ids|Local)$/, '').replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

const SHOWN = 80;
const IDENTIFIER = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
/** Lists of places, names of pictures: how many, not which figures they go by. */
const counted = (count: number): string => (count === 0 ? 'nothing' : count === 1 ? 'one' : `${count}`);
function shown(value: unknown, zone: string | undefined): string {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (Array.isArray(value) && value.every((item) => IDENTIFIER.test(String(item))))
    return counted(value.length);
  if (IDENTIFIER.test(String(value))) return 'another';
  if (typeof value === 'number' && value > 1e12) return dayAndTime(value, zone);
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return text.length > SHOWN ? `${text.slice(0, SHOWN)} …` : text;
}
