import { describe, expect, test } from '@jest/globals';
import { having, payload, textKey, upgraded, versionOf } from '../src/platform/happening-payloads.js';

describe('what is written down of a happening', () => {
  const NAMED = payload(having<{ name: string; colour?: string }>({ name: textKey.required() }));
  const row = { kind: 'box-edited', version: 1, after: null } as const;

  test('is read with what has to be there, and keeps what is not named', () => {
    expect(NAMED.read({ ...row, before: { name: 'Tower', colour: 'red' } }).before).toEqual({
      name: 'Tower',
      colour: 'red',
    });
  });

  test.each([[null], [{}], [{ name: 7 }], ['Tower']])('is never taken for what it is not: %j', (before) => {
    expect(() => NAMED.read({ ...row, before })).toThrow('not-to-be-undone');
  });

  test('of an older version goes through every step since, and through no other', () => {
    const steps = [
      ({ before, after }: { before: unknown; after: unknown }) => ({ before: [before], after }),
      ({ before, after }: { before: unknown; after: unknown }) => ({ before: { list: before }, after }),
    ];
    const read = (version: number): unknown => upgraded({ before: 'a', after: null }, version, steps).before;
    expect([read(1), read(2), read(3)]).toEqual([{ list: ['a'] }, { list: 'a' }, 'a']);
    expect(versionOf('event-edited')).toBe(1);
  });
});
