import { describe, expect, test } from '@jest/globals';
import {
  CHECK_CODES,
  checkReadiness,
  type ReadinessFacts,
  type ReadinessOutlet,
} from '@heliphon/core/readiness/readiness';
import { CHECK_WORDS } from '@heliphon/contracts/check-words';

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

describe('readiness', () => {
  const outlet: ReadinessOutlet = {
    name: 'Lantern Quay Commons at Skerry',
    accountId: 'a',
    accountName: 'Ines Tarrow',
    platform: 'skerry',
    platformName: 'Skerry',
    hasEnded: true,
    consentEndsAtMs: DAY,
    isThere: true,
    hasLetIn: true,
    audience: 'everyone',
  };
  const bad: ReadinessFacts = {
    state: 'doors',
    nowMs: 0,
    doorsAtMs: 0,
    source: { id: 's', name: 'Tower box', kind: 'device', hasFile: false, strayed: null, advice: null },
    report: null,
    nodeIsHere: true,
    standby: { name: 'Balcony', report: null, isAtNode: false },
    hasPoster: false,
    poorColours: 2,
    nobodyCanWatch: 'no-password',
    film: { isAtNode: false },
    overrun: { title: 'Choir', opensAtMs: 0 },
    brokenPlaces: ['Coast relay'],
    outlets: [outlet],
    placeCount: 1,
    people: [{ duty: 'operator', name: 'Odo', answer: 'no', elsewhere: null }],
    clash: { eventId: 'e', title: 'Choir', place: null },
    sizes: {
      choice: 'auto',
      ladder: { renditions: [], leftOut: [{ heightPx: 480, why: 'no-room' }] },
      roomCores: 0,
    },
    diskFreeBytes: 1e9,
    plannedMs: HOUR,
  };

  test.each<[Partial<ReadinessOutlet>, string]>([
    [{}, 'Ines Tarrow’s consent at Skerry has ended'],
    [{ isThere: false, hasEnded: false }, 'Lantern Quay Commons at Skerry is not there any more'],
    [{ hasLetIn: false, hasEnded: false }, 'Lantern Quay Commons at Skerry has not let us in yet'],
    [
      { consentEndsAtMs: 0, hasEnded: false },
      'Ines Tarrow’s consent at Skerry ends before this event is over',
    ],
    [
      { audience: 'only-me', hasEnded: false },
      'Nobody but Ines Tarrow will see the posting at Lantern Quay Commons at Skerry',
    ],
  ])('what is wrong with a linked account is told: %j', (over, sentence) => {
    const outlets = [{ ...outlet, ...over }];
    const check = checkReadiness({ ...bad, outlets }).find(({ code }) => code === 'accounts')!;
    expect(CHECK_WORDS.accounts.open(check.detail)).toBe(sentence);
    expect(CHECK_WORDS.accounts.reason(check.detail)).toMatch(/\w\.$/);
  });

  test('every check has words for what is the matter, why, and what has passed', () => {
    expect(Object.keys(CHECK_WORDS).sort()).toEqual([...CHECK_CODES].sort());
    for (const check of checkReadiness(bad)) {
      const words = CHECK_WORDS[check.code];
      for (const sentence of [
        words.open(check.detail),
        words.reason(check.detail),
        words.passed,
        words.later,
      ]) {
        expect(sentence).not.toMatch(/undefined|NaN|^$/);
      }
    }
  });

  test('says of people who, what and where, and of a clash what both want', () => {
    const { people, 'source-free': free } = CHECK_WORDS;
    const facts = { name: 'Odo', duty: 'operator', title: 'Choir' };
    expect(
      ['cannot', 'twice', 'nobody', 'unanswered', 'something new'].map((kind) =>
        people.open({ ...facts, kind }),
      ),
    ).toEqual([
      'Odo cannot come, and nobody is covering as operator',
      'Odo is also on the rota for “Choir” at the same time',
      'Nobody is on the rota to run the desk',
      'Odo has not said whether they can come',
      'Somebody is missing',
    ]);
    expect(new Set(['cannot', 'nobody', 'unanswered'].map((kind) => people.reason({ kind }))).size).toBe(3);
    expect(free.reason({ kind: 'place' })).toBe('It can only take one programme at a time.');
    expect(free.reason({ kind: 'source' })).toBe('Both would show the same picture.');
  });

  test('names what it speaks of', () => {
    const found = Object.fromEntries(
      checkReadiness(bad).map((check) => [check.code, CHECK_WORDS[check.code].open(check.detail)]),
    );
    expect(found['source-here']).toBe('Tower box is not sending a picture');
    expect(found['source-free']).toBe('“Choir” needs Tower box at the same time');
    expect(found.places).toBe('The address of Coast relay is wrong');
    expect(found.people).toBe('Odo cannot come, and nobody is covering as operator');
    expect(found.disk).toBe('Only 1 GB free');
  });
});
