import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { calendarWords } from '../src/languages/calendar-words.js';
import { compileLanguage, directionOf, WORD_KEYS } from '../src/languages/compile-language.js';
import { ENGLISH } from '../src/languages/english.js';
import { LANGUAGE_FORMAT, LANGUAGE_VERSION, readLanguage } from '../src/languages/read-language.js';
import { WELSH } from '../src/languages/welsh.js';
import { sayIn, type SpokenLanguage, type WordKey } from '../src/languages/words.js';

const file = (words: object, over: object = {}): object => ({
  format: LANGUAGE_FORMAT,
  version: LANGUAGE_VERSION,
  tag: 'cy',
  name: 'Cymraeg',
  words,
  ...over,
});
const remarksOn = (words: object, over: object = {}) => {
  const result = readLanguage(file({ ...WELSH, ...words }, over));
  return result.ok ? result.value.remarks : result.error;
};

describe('the languages that every house has', () => {
  test('say everything, with the values and the forms that they need', () => {
    expect(remarksOn({})).toEqual([]);
    expect(readLanguage(file(ENGLISH, { tag: 'en-GB', name: 'English' }))).toMatchObject({
      ok: true,
      value: { remarks: [] },
    });
  });

  test('Welsh counts as Welsh does', () => {
    const say = sayIn(compileLanguage('cy', WELSH));
    const days = [1, 2, 3, 6, 11].map((count) => say('countdown.days', { count }));
    expect(days).toEqual(['diwrnod', 'ddiwrnod', 'diwrnod', 'diwrnod', 'diwrnod']);
    expect(say('event.hereEarly', { count: 7 })).toBe('Mae 7 o bobl yma’n gynnar');
  });

  test('a browser that knows no Welsh still counts and dates as Welsh does', () => {
    const supported = Intl.PluralRules.supportedLocalesOf.bind(Intl.PluralRules);
    const spoken = compileLanguage('cy', WELSH);
    const count = (language: SpokenLanguage): string[] =>
      [0, 1, 2, 3, 6, 7, 102, 200, 1002].map((count) => sayIn(language)('event.hereEarly', { count }));
    const known = count(spoken);
    Intl.PluralRules.supportedLocalesOf = () => [];
    try {
      expect(count(spoken)).toEqual(known);
    } finally {
      Intl.PluralRules.supportedLocalesOf = supported;
    }
    const { weekdays, months, order } = spoken.calendar;
    expect([weekdays.long[1], months.long[10], order.long]).toEqual([
      'Dydd Llun',
      'Tachwedd',
      '{weekday} {day} {month}',
    ]);
  });

  test('a language that nobody knows writes its days in English', () => {
    expect(calendarWords('qaa')).toEqual(calendarWords('en-GB'));
  });

  test('English puts values in, and figures as it writes them', () => {
    const say = sayIn(compileLanguage('en-GB', ENGLISH));
    expect(say('time.dayFromTo', { day: 'Sunday 7 March', from: '10:30', to: '11:30' })).toBe(
      'Sunday 7 March, 10:30 to 11:30',
    );
    expect(say('event.watching', { count: 1200 })).toBe('1,200 watching');
    expect(say('event.hereEarly', { count: 1 })).toBe('You are the first one here');
  });
});

describe('a language file', () => {
  test('English stands in for what is not there, what cannot be read, and what asks for something unknown', () => {
    const bad = {
      'event.onAir': '',
      'event.replayOf': 'ailddangosiad {day',
      'event.wasOn': 'Roedd hwn <b>ymlaen</b> {day}.',
      'event.tellMe': 'x'.repeat(2000),
      'help.tell': 'Rhoi gwybod i {people}',
    };
    expect(remarksOn({ ...bad, 'event.gone': 'x' })).toEqual([
      { kind: 'missing', key: 'event.onAir' },
      { kind: 'unreadable', key: 'event.replayOf' },
      { kind: 'unreadable', key: 'event.wasOn' },
      { kind: 'too-long', key: 'event.tellMe' },
      { kind: 'unknown-value', key: 'help.tell', value: 'people' },
      { kind: 'unknown', key: 'event.gone' },
    ]);
    const read = readLanguage(file({ ...WELSH, ...bad }));
    if (!read.ok) throw new Error(read.error);
    const say = sayIn(compileLanguage('cy', read.value.language.words));
    expect([say('event.onAir'), say('help.tell', { house: 'Lantern Quay' }), say('event.openPage')]).toEqual([
      ENGLISH['event.onAir'],
      'Tell Lantern Quay',
      WELSH['event.openPage'],
    ]);
  });

  test('a plural that lacks a form of its language is used, and told', () => {
    const days = '{count, plural, one {diwrnod} other {diwrnod}}';
    expect(remarksOn({ 'countdown.days': days })).toEqual([
      { kind: 'plural', key: 'countdown.days', forms: expect.arrayContaining(['two', 'few', 'many']) },
    ]);
    const say = sayIn(compileLanguage('cy', { 'countdown.days': days }));
    expect(say('countdown.days', { count: 2 })).toBe('diwrnod');
  });

  test.each([
    ['language-no-file', { format: 'something else' }],
    ['language-no-file', { words: null }],
    ['language-version', { version: 2 }],
    ['language-tag', { tag: 'not a tag' }],
    ['language-tag', { tag: 7 }],
    ['language-name', { name: '  ' }],
    ['language-name', { name: 'x'.repeat(61) }],
  ])('is refused as %s for %o', (fault, over) => {
    expect(remarksOn({}, over)).toBe(fault);
  });

  test('whatever is written in it, every sentence can be said afterwards', () => {
    const message = fc.oneof(
      fc.string(),
      fc.constantFrom("'{", '{count, plural, other {#}}', '{house}', '#', '{a, date}', '</b>', "it''s {"),
    );
    fc.assert(
      fc.property(fc.dictionary(fc.constantFrom<string>(...WORD_KEYS), message), (words) => {
        const read = readLanguage(file(words));
        if (!read.ok) throw new Error(read.error);
        const spoken = compileLanguage('cy', read.value.language.words);
        const values = new Proxy({}, { get: () => 3, has: () => true });
        for (const key of Object.keys(words) as WordKey[])
          expect(sayIn(spoken)(key as 'help.tell', values as { house: number })).not.toContain('undefined');
      }),
    );
  });

  test('knows which way its language runs', () => {
    expect(['cy', 'ar', 'he', 'ur', 'ps', 'az', 'az-Arab'].map(directionOf)).toEqual([
      'ltr',
      'rtl',
      'rtl',
      'rtl',
      'rtl',
      'ltr',
      'rtl',
    ]);
  });
});
