import compile from 'icu-minify/compile';
import { calendarWords, knownTag } from './calendar-words.js';
import { ENGLISH } from './english.js';
import type { SpokenLanguage, WordKey } from './words.js';

/** Messages of a language by their keys; English stands in for what is missing. */
export type LanguageWords = Readonly<Partial<Record<WordKey, string>>>;

export const WORD_KEYS = Object.keys(ENGLISH) as readonly WordKey[];

/** Scripts that run from right to left (Unicode, UAX #9). */
const RIGHT_TO_LEFT = new Set(['Adlm', 'Arab', 'Hebr', 'Mand', 'Nkoo', 'Rohg', 'Samr', 'Syrc', 'Thaa']);

/** @param tag - one that `Intl` knows the form of */
export const directionOf = (tag: string): SpokenLanguage['direction'] =>
  RIGHT_TO_LEFT.has(new Intl.Locale(tag).maximize().script ?? '') ? 'rtl' : 'ltr';

/** The form that each of the first numbers takes, a letter each. */
function pluralsOf(tag: string): string {
  const rules = new Intl.PluralRules(knownTag(tag));
  const letterOf = (count: number): string => {
    const form = rules.select(count);
    return form === 'other' ? '-' : form[0]!;
  };
  return Array.from({ length: 200 }, (_, count) => letterOf(count)).join('');
}

/** @param given - messages that can be read, such as `readLanguage` answers them */
export function compileLanguage(tag: string, given: LanguageWords): SpokenLanguage {
  const words = WORD_KEYS.map((key) => [key, compile(given[key] ?? ENGLISH[key])] as const);
  return {
    tag,
    direction: directionOf(tag),
    words: Object.fromEntries(words) as SpokenLanguage['words'],
    calendar: calendarWords(tag),
    plurals: pluralsOf(tag),
  };
}
