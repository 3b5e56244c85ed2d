import { describe, expect, test } from '@jest/globals';
import { ENGLISH } from '@heliphon/core/languages/english';
import { FINDING_SIDES, judge } from '../src/public/help-check.js';
import { actorWords, differences, happeningWords } from '../src/words/happenings.js';
import { sizeWords } from '../src/words/sizes.js';

const fine = {
  isPictureAway: false,
  state: 'air',
  didMediaAnswer: true,
  didServerAnswer: true,
  downloadBps: 20e6,
  isMuted: false,
  volume: 1,
  isPlaying: true,
  isSoundOnly: false,
} as const;

describe('“No sound? No picture?” says whether it is us or them', () => {
  test.each([
    ['nothing is broken', {}, 'picture', 'none', 'reload the page'],
    ['it has not begun', { state: 'doors' }, 'picture', 'none', 'start by itself'],
    ['the encoder is away', { isPictureAway: true }, 'picture', 'us', 'getting it back'],
    ['the media node is away', { didMediaAnswer: false }, 'picture', 'us', 'the picture does not'],
    ['their internet is away', { didMediaAnswer: false, didServerAnswer: false }, 'picture', 'you', 'Wi-Fi'],
    ['there never was a picture', { state: 'kept', didMediaAnswer: null }, 'picture', 'us', 'no picture'],
    ['their internet is slow', { downloadBps: 1e6 }, 'picture', 'you', 'slow'],
    ['the picture was left out', { isSoundOnly: true }, 'picture', 'you', 'Picture and sound'],
    ['it is stopped', { isPlaying: false }, 'picture', 'you', 'Press Play'],
    ['the player is silent', { isMuted: true }, 'sound', 'you', 'Turn the sound on'],
    ['the device is silent', {}, 'sound', 'you', 'headphones'],
  ] as const)('%s', (_name, facts, complaint, side, words) => {
    const finding = judge({ ...fine, ...facts }, complaint);
    expect(FINDING_SIDES[finding]).toBe(side);
    expect(ENGLISH[`finding.${finding}`]).toContain(words);
  });
});

describe('the activity record', () => {
  test('says what happened to what, and who did it', () => {
    const renamed = {
      kind: 'event-edited',
      subjectKind: 'event',
      subjectName: 'Newest',
      before: { title: 'Old' },
      after: { title: 'New' },
    } as const;
    expect(happeningWords(renamed)).toBe('“New” was changed');
    const deleted = {
      kind: 'event-deleted',
      subjectKind: 'event',
      subjectName: null,
      before: { event: { title: 'Quiz' } },
      after: null,
    } as const;
    expect(happeningWords(deleted)).toBe('“Quiz” was deleted');
    const renewed = { kind: 'key-renewed', subjectKind: 'source', before: null, after: null } as const;
    expect(happeningWords({ ...renewed, subjectName: 'Pier camera' })).toBe('“Pier camera” got a new key');
    expect(happeningWords({ ...renewed, subjectName: null })).toBe('A source got a new key');
    expect([actorWords('clock', null), actorWords('x', null), actorWords('x', 'Maren')]).toEqual([
      'the clock',
      'somebody who has left',
      'Maren',
    ]);
  });
  test('shows the fields that differ, before and after, and no others', () => {
    const [change, ...rest] = differences(
      { title: 'A', version: 1, doorsMinutes: 15 },
      { title: 'A', version: 2, doorsMinutes: 20 },
    );
    expect(change).toEqual({ field: 'doors, minutes before', before: '15', after: '20' });
    expect(rest).toEqual([]);
    expect(differences(null, { a: 1 })).toEqual([]);
  });
});

test('an instant is told in the house’s zone', () => {
  const [change] = differences({ airAtMs: null }, { airAtMs: Date.UTC(2026, 5, 7, 9, 30) }, 'Europe/London');
  expect(change).toEqual({ field: 'air', before: 'none', after: 'Sun 7 Jun, 10:30' });
});

test('what only has an identifier is counted, never spelt out', () => {
  const id = '0198a000-0000-7000-8000-000000000001';
  const before = { posterId: null, destinationIds: [] };
  expect(differences(before, { posterId: id, destinationIds: [id, id] })).toEqual([
    { field: 'poster', before: 'none', after: 'another' },
    { field: 'places', before: 'none', after: '2' },
  ]);
});

test('no change is shown as it lies in the database', () => {
  const before = {
    turns: [],
    duties: null,
    roles: ['moderator'],
    chatOpen: false,
    rule: 'FREQ=DAILY',
    look: {},
  };
  const after = {
    turns: [{ duty: 'operator', personIds: ['a', 'b'] }],
    duties: [{ duty: 'moderator', personId: null }],
    roles: ['owner', 'operator'],
    chatOpen: true,
    rule: 'FREQ=WEEKLY;BYDAY=SU',
    look: { warm: '#fff' },
  };
  expect(differences(before, after)).toEqual([
    { field: 'taking turns', before: 'none', after: '1' },
    { field: 'rota', before: 'none', after: '1' },
    { field: 'roles', before: 'Moderator', after: 'Owner and Operator' },
    { field: 'chat', before: 'off', after: 'on' },
    { field: 'repeats', before: 'every day', after: 'every Sunday' },
    { field: 'look', before: 'changed', after: 'changed' },
  ]);
});

test('a size has two figures and its unit', () => {
  expect([0, 999, 1500, 28_000_000, 1_400_000_000].map(sizeWords)).toEqual([
    '0 bytes',
    '999 bytes',
    '1.5 kB',
    '28 MB',
    '1.4 GB',
  ]);
});
