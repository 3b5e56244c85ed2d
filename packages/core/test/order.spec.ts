import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type OrderItem, type OrderMark, orderChanges, presentItem } from '../src/order/order-sheet.js';
import { clockAt, keepNames, readOrder, writeOrder } from '../src/order/order-text.js';

describe('an order sheet as text', () => {
  test('times begin items, what follows are the words', () => {
    const text = [
      '10:30 Bell and welcome',
      '10:36  Hymn: The lamp upon the water',
      '  The lamp upon the water',
      '  is steady though it sways;',
      '',
      '  it calls the boats of morning',
      '10.44 The blessing of the boats',
      '# Names of those at sea',
      '11:20 – 11:30 Hymn',
    ].join('\r\n');
    expect(readOrder(text, '10:30')).toEqual([
      { atMinutes: 0, title: 'Bell and welcome', words: '' },
      {
        atMinutes: 6,
        title: 'Hymn: The lamp upon the water',
        words: 'The lamp upon the water\nis steady though it sways;\n\nit calls the boats of morning',
      },
      { atMinutes: 14, title: 'The blessing of the boats', words: '' },
      { atMinutes: null, title: 'Names of those at sea', words: '' },
      { atMinutes: 50, title: 'Hymn', words: '' },
    ]);
  });

  test('a pasted text without times: a line, or a paragraph, is an item', () => {
    const titles = (text: string): string[] => readOrder(text, '10:30').map(({ title }) => title);
    expect(titles('Welcome\nHymn\nTea')).toEqual(['Welcome', 'Hymn', 'Tea']);
    expect(readOrder('Welcome\n\nHymn\nThe lamp\nupon\n\n\nTea\n', '10:30')).toEqual([
      { atMinutes: null, title: 'Welcome', words: '' },
      { atMinutes: null, title: 'Hymn', words: 'The lamp\nupon' },
      { atMinutes: null, title: 'Tea', words: '' },
    ]);
    expect(titles('')).toEqual([]);
    expect(titles('Order of service\n10:30 Welcome')).toEqual(['Order of service', 'Welcome']);
  });

  test('times go over midnight, before the start they are the start, and 25:00 is no time', () => {
    const [watch, lamp, odd] = readOrder('23:30 Watch night\n0:10 The lamp\n25:00 Psalm', '23:30');
    expect([watch!.atMinutes, lamp!.atMinutes]).toEqual([0, 40]);
    expect(odd).toEqual({ atMinutes: null, title: '25:00 Psalm', words: '' });
    expect(readOrder('10:15 Bell', '10:30')[0]!.atMinutes).toBe(0);
    expect(clockAt(40, '23:30')).toBe('00:10');
  });

  const line = fc.stringMatching(/^[a-zé0-9,.;# :]{1,20}$/).map((text) => text.trim());
  const title = line.filter((text) => text !== '');
  const words = fc.array(line, { maxLength: 4 }).map((lines) => lines.join('\n').replace(/^\n+|\n+$/g, ''));
  const item = fc.record({ atMinutes: fc.option(fc.integer({ min: 0, max: 700 })), title, words });

  test('what is written is read back the same', () => {
    fc.assert(
      fc.property(fc.array(item, { maxLength: 8 }), (items) => {
        expect(readOrder(writeOrder(items, '10:30'), '10:30')).toEqual(items);
      }),
    );
  });

  test('an item keeps its name through another time, other words and another place', () => {
    const before: OrderItem[] = [
      { id: 'a', atMinutes: 0, title: 'Welcome', words: '' },
      { id: 'b', atMinutes: 5, title: 'Hymn', words: '' },
      { id: 'c', atMinutes: 9, title: 'Tea', words: '' },
    ];
    const ids = (text: string): string[] =>
      keepNames(readOrder(text, '10:30'), before, () => 'new').map(({ id }) => id);
    expect(ids('10:30 Welcome\n10:40 Hymn\n  Words\n10:50 Tea')).toEqual(['a', 'b', 'c']);
    expect(ids('10:30 Tea\n10:40 Welcome')).toEqual(['c', 'a']);
    expect(ids('10:30 Welcome\n10:35 Psalm\n10:39 Tea')).toEqual(['a', 'b', 'c']);
    expect(ids('10:30 Welcome\n10:35 Hymn\n10:39 Tea\n10:50 Bell')).toEqual(['a', 'b', 'c', 'new']);
  });
});

describe('which item is the present one', () => {
  const MINUTE = 60_000;
  const items: OrderItem[] = [
    { id: 'welcome', atMinutes: 0, title: 'Welcome', words: '' },
    { id: 'hymn', atMinutes: 5, title: 'Hymn', words: '' },
    { id: 'names', atMinutes: null, title: 'Names', words: '' },
    { id: 'tea', atMinutes: 20, title: 'Tea', words: '' },
  ];
  const changes = (marks: readonly [minute: number, itemId: string | null][], from = 0, to = 60) =>
    orderChanges(
      items,
      marks.map(([minute, itemId]) => ({ atMs: minute * MINUTE, itemId })),
      0,
      from * MINUTE,
      to * MINUTE,
    ).map(({ atMs, itemId }) => [atMs / MINUTE, itemId]);

  test('goes by its times, without those that have none', () => {
    expect(changes([])).toEqual([
      [0, 'welcome'],
      [5, 'hymn'],
      [20, 'tea'],
    ]);
  });

  test('goes by the desk once it moves, until it goes by its times again', () => {
    expect(
      changes([
        [3, 'hymn'],
        [9, 'names'],
        [30, null],
      ]),
    ).toEqual([
      [0, 'welcome'],
      [3, 'hymn'],
      [9, 'names'],
      [30, 'tea'],
    ]);
  });

  test('begins with what is present when the programme goes on air, and ends with it', () => {
    expect(changes([], 7, 12)).toEqual([[7, 'hymn']]);
    expect(changes([[4, 'names']], 7, 30)).toEqual([[7, 'names']]);
    expect(changes([[4, 'an item that was taken out']], 0, 4)).toEqual([[0, 'welcome']]);
  });

  test('any moves: what is told for an instant is what was last changed to', () => {
    const mark = fc.record({
      atMs: fc.integer({ min: 0, max: 1_800_000 }),
      itemId: fc.constantFrom('welcome', 'hymn', 'names', 'tea', null),
    });
    fc.assert(
      fc.property(fc.array(mark, { maxLength: 12 }), fc.nat(1_800_000), (marks, atMs) => {
        const all = orderChanges(items, marks as OrderMark[], 0, 0, 1_800_000);
        expect(presentItem(all, atMs)).toBe(
          orderChanges(items, marks as OrderMark[], 0, 0, atMs).at(-1)?.itemId ?? null,
        );
        for (const [at, change] of all.slice(1).entries()) {
          expect(change.atMs).toBeGreaterThan(all[at]!.atMs);
          expect(change.itemId).not.toBe(all[at]!.itemId);
        }
      }),
    );
  });
});
