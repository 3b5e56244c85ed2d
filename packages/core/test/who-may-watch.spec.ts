import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  GUARDED_EVERY_MS,
  guardedTimes,
  isTurned,
  NO_TURNS,
  TURN_GRACE_MS,
  turnGrants,
  TURNS_KEPT_MS,
} from '../src/access/guarded-grant.js';
import { readInvitedList } from '../src/access/invited-list.js';
import {
  ADMISSIONS,
  foldPassword,
  frameAncestors,
  inheritWatchRules,
  isGuarded,
  isListed,
  matchesHost,
  refusalOf,
  STRANGER as stranger,
  USUAL_WATCH_RULES,
  type WatchRules,
  withSite,
} from '../src/access/watch-rules.js';

const rules = (own: Partial<WatchRules>): WatchRules => ({ ...USUAL_WATCH_RULES, ...own });

describe('who may watch', () => {
  test('is everybody, until somebody says otherwise', () => {
    expect(refusalOf(USUAL_WATCH_RULES, 'live', stranger)).toBeNull();
    expect(isGuarded(USUAL_WATCH_RULES, 'live')).toBe(false);
  });

  test.each([
    ['everyone', null, []],
    ['link', null, []],
    ['password', 'password', ['password']],
    ['invited', 'invited', ['invited']],
    ['house', 'house', null],
  ] as const)('%s: a stranger is told %s, and comes in by %j', (admission, why, proofs) => {
    const own = rules({ live: admission });
    expect(refusalOf(own, 'live', stranger)?.why ?? null).toBe(why);
    expect(refusalOf(own, 'replay', stranger)).toBeNull();
    expect(isGuarded(own, 'live')).toBe(why !== null);
    if (proofs) expect(refusalOf(own, 'live', { ...stranger, proofs })).toBeNull();
    expect(refusalOf(own, 'live', { ...stranger, isOfHouse: true })).toBeNull();
  });

  test('one proof is not taken for another', () => {
    expect(refusalOf(rules({ live: 'invited' }), 'live', { ...stranger, proofs: ['password'] })).toEqual({
      why: 'invited',
    });
    expect(
      refusalOf(rules({ live: 'house' }), 'live', { ...stranger, proofs: ['password', 'invited'] }),
    ).toEqual({ why: 'house' });
  });

  test('on named websites alone, and there in its embed alone', () => {
    const own = rules({ sites: { kind: 'only', hosts: ['quay.example', '*.parish.example'] } });
    const at = (site: string | null) => refusalOf(own, 'live', { ...stranger, site });
    expect(at('quay.example')).toBeNull();
    expect(at('north.parish.example')).toBeNull();
    expect(at('parish.example')).not.toBeNull();
    expect(at('evil-parish.example')).not.toBeNull();
    expect(at('quay.example.evil.example')).not.toBeNull();
    expect(at(null)).toEqual({ why: 'site', hosts: ['quay.example'] });
    // A website that does not say its name is known to the browser, which keeps to the policy.
    expect(at('')).toBeNull();
    expect(frameAncestors(own)).toBe("'self' quay.example *.parish.example");
    expect(frameAncestors(USUAL_WATCH_RULES)).toBe('*');
  });

  test('everywhere but on websites that were refused', () => {
    const own = rules({ sites: { kind: 'not', hosts: ['copies.example'] } });
    const at = (site: string | null) => refusalOf(own, 'live', { ...stranger, site });
    expect([at(null), at('quay.example')]).toEqual([null, null]);
    expect(at('copies.example')).toEqual({ why: 'site', hosts: [] });
    expect(isGuarded(own, 'live')).toBe(false);
  });

  test.each([
    ['only', 'GB', true],
    ['only', 'FR', false],
    ['not', 'GB', false],
    ['not', 'FR', true],
  ] as const)('%s in Great Britain: from %s it is %s', (kind, country, may) => {
    const own = rules({ countries: { kind, codes: ['GB'], admitsUnknown: false } });
    expect(refusalOf(own, 'live', { ...stranger, country }) === null).toBe(may);
    expect(refusalOf(own, 'live', stranger)).toEqual({ why: 'country' });
    const lenient = rules({ countries: { kind, codes: ['GB'], admitsUnknown: true } });
    expect(refusalOf(lenient, 'live', stranger)).toBeNull();
  });

  test('what cannot be helped is said before a password is asked for', () => {
    const own = rules({ live: 'password', countries: { kind: 'only', codes: ['GB'], admitsUnknown: false } });
    expect(refusalOf(own, 'live', { ...stranger, country: 'FR', proofs: ['password'] })).toEqual({
      why: 'country',
    });
    expect(refusalOf(own, 'live', { ...stranger, country: 'GB' })).toEqual({ why: 'password' });
  });

  test('whatever is not guarded opens for a stranger on a page of ours', () => {
    fc.assert(
      fc.property(fc.constantFrom(...ADMISSIONS), fc.constantFrom('live', 'replay'), (admission, phase) => {
        const own = rules({ live: admission, replay: admission });
        expect(refusalOf(own, phase, stranger) === null).toBe(!isGuarded(own, phase));
      }),
    );
  });

  test('is listed unless it is for those with the link, or has no title to show', () => {
    expect(isListed(rules({ live: 'link' }), 'live')).toBe(false);
    expect(isListed(rules({ live: 'link' }), 'replay')).toBe(true);
    expect(isListed(rules({ live: 'password' }), 'live')).toBe(true);
    expect(isListed(rules({ live: 'password', showsTitle: false }), 'live')).toBe(false);
  });

  test('comes down, and can be taken back below', () => {
    const { value, from } = inheritWatchRules([
      { level: 'house', own: { replay: 'house', sites: { kind: 'only', hosts: ['quay.example'] } } },
      { level: 'series', own: { sites: null } },
    ]);
    expect(value).toEqual({ ...USUAL_WATCH_RULES, replay: 'house' });
    expect(from).toMatchObject({ live: 'usual', replay: 'house', sites: 'series' });
  });

  test.each([
    [null, true, null],
    [null, false, { kind: 'not', hosts: ['a.example'] }],
    [{ kind: 'only', hosts: ['b.example'] }, true, { kind: 'only', hosts: ['b.example', 'a.example'] }],
    [{ kind: 'only', hosts: ['a.example', 'b.example'] }, false, { kind: 'only', hosts: ['b.example'] }],
    [{ kind: 'only', hosts: ['a.example'] }, false, undefined],
    [{ kind: 'only', hosts: ['*.example'] }, false, undefined],
    [{ kind: 'not', hosts: ['a.example'] }, true, null],
    [{ kind: 'not', hosts: ['b.example'] }, false, { kind: 'not', hosts: ['b.example', 'a.example'] }],
  ] as const)('%j: a website is let in (%s) by %j', (rule, mayShow, changed) => {
    expect(withSite(rule, 'a.example', mayShow)).toEqual(changed);
  });

  test('a password is the same however a telephone begins it', () => {
    expect(foldPassword('  Lamp  upon the Water ')).toBe(foldPassword('lamp upon the water'));
    expect(foldPassword('lamp')).not.toBe(foldPassword('lamps'));
  });

  test('a wildcard stands for names below, never for part of one', () => {
    expect(matchesHost('*.quay.example', 'a.b.quay.example')).toBe(true);
    expect(matchesHost('*.quay.example', 'aquay.example')).toBe(false);
    expect(matchesHost('quay.example:8090', 'quay.example')).toBe(false);
  });
});

describe('what only some are granted', () => {
  const T0 = 20_000 * GUARDED_EVERY_MS;

  test('has the same text for all within five minutes, and is good for five to ten', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: GUARDED_EVERY_MS - 1 }), (passedMs) => {
        const times = guardedTimes(NO_TURNS, T0 + passedMs);
        expect(times).toEqual(guardedTimes(NO_TURNS, T0));
        const leftMs = times.expiresAtMs - T0 - passedMs;
        expect(leftMs).toBeGreaterThan(GUARDED_EVERY_MS);
        expect(leftMs).toBeLessThanOrEqual(2 * GUARDED_EVERY_MS);
      }),
    );
  });

  test('ends within a minute once somebody is put out; what is given after that stays good', () => {
    const before = { class: 'guarded', ...guardedTimes(NO_TURNS, T0 + 1500) } as const;
    const turns = turnGrants(NO_TURNS, T0 + 1500, false);
    const after = { class: 'guarded', ...guardedTimes(turns, T0 + 1600) } as const;
    expect(isTurned(before, turns, T0 + 2000)).toBe(false);
    expect(isTurned(before, turns, T0 + 3000 + TURN_GRACE_MS)).toBe(true);
    expect(isTurned(after, turns, T0 + 3000 + TURN_GRACE_MS)).toBe(false);
  });

  test('ends also for somebody put out in the very second in which it was given, after another', () => {
    const first = turnGrants(NO_TURNS, T0 + 100, false);
    const grant = { class: 'guarded', ...guardedTimes(first, T0 + 200) } as const;
    const second = turnGrants(first, T0 + 300, false);
    expect(isTurned(grant, second, T0 + 60_000)).toBe(true);
  });

  test('ends within a minute, however many are put out at once', () => {
    let turns = NO_TURNS;
    const grant = { class: 'guarded', ...guardedTimes(turns, T0) } as const;
    for (let count = 0; count < 500; count += 1) turns = turnGrants(turns, T0 + count, false);
    expect(isTurned(grant, { ...turns, guardedAtMs: turns.guardedAtMs.slice(-1) }, T0 + 60_000)).toBe(true);
  });

  test('is not kept alive by others who are put out one after the other', () => {
    let turns = NO_TURNS;
    const grant = { class: 'guarded', ...guardedTimes(turns, T0) } as const;
    for (let second = 1; second <= 60; second += 1) turns = turnGrants(turns, T0 + second * 1000, false);
    expect(isTurned(grant, turns, T0 + 60_000)).toBe(true);
  });

  test('turns are forgotten once nothing is left that they could end', () => {
    const first = turnGrants(NO_TURNS, T0, true);
    const later = turnGrants(first, T0 + TURNS_KEPT_MS + 2000, false);
    expect(later.guardedAtMs).toHaveLength(1);
    expect(later.publicAtMs).toBe(first.publicAtMs);
  });

  test('what everybody was granted ends only where that is said', () => {
    const grant = { class: 'public', validFromMs: 0 } as const;
    const later = T0 + 10 * GUARDED_EVERY_MS;
    expect(isTurned(grant, turnGrants(NO_TURNS, T0, false), later)).toBe(false);
    expect(isTurned(grant, turnGrants(NO_TURNS, T0, true), later)).toBe(true);
    expect(isTurned({ class: 'desk', validFromMs: 0 }, turnGrants(NO_TURNS, T0, true), later)).toBe(false);
  });
});

describe('a list of people who are invited', () => {
  const read = (text: string) => readInvitedList(text).people.map(({ name, email }) => `${name} ${email}`);

  test.each([
    ['Ines Quill <Ines@Quay.Example>', ['Ines Quill ines@quay.example']],
    ['ines@quay.example', ['ines ines@quay.example']],
    ['Tomas Reed', ['Tomas Reed ']],
    ['Name;E-mail\nInes Quill;ines@quay.example', ['Ines Quill ines@quay.example']],
    ['ines@quay.example\tQuill\tInes', ['Quill Ines ines@quay.example']],
    ['"Quill, Ines","ines@quay.example"', ['Quill, Ines ines@quay.example']],
    [
      'Ines <ines@quay.example>, Tomas <tomas@quay.example>;',
      ['Ines ines@quay.example', 'Tomas tomas@quay.example'],
    ],
    ['\r\nines@quay.example\r\n\r\nINES@quay.example\r\n', ['ines ines@quay.example']],
  ])('%j', (text, people) => {
    expect(read(text)).toEqual(people);
  });

  test('says which lines it cannot read, and takes the others', () => {
    const list = readInvitedList('ines@quay.example\nsomebody@\n,,;\n@quay\nTomas');
    expect(list.people).toHaveLength(2);
    expect(list.unreadableLines).toEqual([2, 4]);
  });

  test('takes five thousand, however often they are pasted', () => {
    const lines = Array.from({ length: 5000 }, (_, index) => `Guest ${index} <guest${index}@quay.example>`);
    expect(readInvitedList([...lines, ...lines].join('\n')).people).toHaveLength(5000);
  });

  test('whatever is pasted, nothing is thrown, and everybody has a name', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (text) => {
        for (const { name } of readInvitedList(text).people) expect(name).not.toBe('');
      }),
    );
  });
});
