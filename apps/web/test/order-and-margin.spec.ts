import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { OrderItem } from '@heliphon/core/order/order-sheet';
import { keepMargin, marginFile, readMargin } from '../src/public/own-margin.js';
import { filterQuery } from '../src/console/week/filter-query.js';
import { answerWords, DUTY_WORDS } from '../src/words/duties.js';

/** A browser's storage, as far as a page needs it. */
class Storage {
  readonly #kept = new Map<string, string>();
  isShut = false;
  getItem(key: string): string | null {
    if (this.isShut) throw new Error('SecurityError');
    return this.#kept.get(key) ?? null;
  }
  setItem(key: string, value: string): void {
    if (this.isShut) throw new Error('QuotaExceededError');
    this.#kept.set(key, value);
  }
}

describe('one’s own margin', () => {
  let storage: Storage;
  beforeEach(() => {
    storage = new Storage();
    Object.assign(globalThis, { localStorage: storage });
  });
  afterEach(() => {
    Reflect.deleteProperty(globalThis, 'localStorage');
  });

  test('is kept by event, on this device', () => {
    expect(keepMargin('sunday', { hymn: 'Grandmother sang this.' })).toBe(true);
    expect(readMargin('sunday')).toEqual({ hymn: 'Grandmother sang this.' });
    expect(readMargin('monday')).toEqual({});
  });

  test('where the browser keeps nothing, that is said, and nothing breaks', () => {
    storage.isShut = true;
    expect(keepMargin('sunday', { hymn: 'x' })).toBe(false);
    expect(readMargin('sunday')).toEqual({});
  });

  test('what somebody else left there is no margin', () => {
    storage.setItem('heliphon.margin.sunday', 'not even JSON');
    expect(readMargin('sunday')).toEqual({});
    storage.setItem('heliphon.margin.sunday', 'null');
    expect(readMargin('sunday')).toEqual({});
  });

  test('is saved as plain text, in the order of the sheet, without what has no words', () => {
    const item = (id: string, title: string): OrderItem => ({ id, title, atMinutes: null, words: '' });
    const items = [item('a', 'Welcome'), item('b', 'Hymn'), item('c', 'Tea')];
    expect(marginFile('Evensong', items, { c: 'Bring cake.', b: 'Page 12' })).toBe(
      'Evensong\n\nHymn\nPage 12\n\nTea\nBring cake.\n',
    );
    expect(marginFile('Evensong', items, {})).toBe('Evensong\n');
  });
});

describe('words of duties', () => {
  test('every duty says what it does, every answer whether they come', () => {
    for (const { name, does } of Object.values(DUTY_WORDS))
      expect(`${name} ${does}`).toMatch(/^[A-Z]\w+ \w+/);
    expect([answerWords('yes'), answerWords('no'), answerWords(null)]).toEqual([
      'will come',
      'cannot come',
      'has not answered yet',
    ]);
  });
});

test('what is chosen of a plan becomes a query, whatever signs are in it', () => {
  expect(filterQuery({})).toBe('');
  expect(filterQuery({ q: 'bread & wine=50%', personId: 'p' })).toBe(
    '&q=bread%20%26%20wine%3D50%25&personId=p',
  );
});
