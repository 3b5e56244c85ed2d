import format, { type CompiledMessage } from 'icu-minify/format';
import type { CalendarWords } from './calendar-words.js';
import type { ENGLISH } from './english.js';

export type WordKey = keyof typeof ENGLISH;

/** The values a message asks for: `'{from} to {to}'` has `from` and `to`; of one with a plural, what is counted. */
type ValueName<M extends string> = M extends `${string}{${infer Counted}, plural,${string}`
  ? Counted
  : M extends `${string}{${infer Name}}${infer Rest}`
    ? Name | ValueName<Rest>
    : never;
type Values<M extends string> = [ValueName<M>] extends [never]
  ? []
  : [values: Readonly<Record<ValueName<M>, string | number>>];

/** A message in the language that is spoken, with its values put in. */
export type Say = <K extends WordKey>(key: K, ...values: Values<(typeof ENGLISH)[K]>) => string;

/** All words of a language, read from ICU MessageFormat ahead of their use. */
export interface SpokenLanguage {
  /** As BCP 47 writes it: `cy`, `en-GB`. */
  readonly tag: string;
  readonly direction: 'ltr' | 'rtl';
  readonly words: Readonly<Record<WordKey, CompiledMessage>>;
  readonly calendar: CalendarWords;
  /** Which form each of 0 to 199 takes, for a browser that does not know the language: `zotfm` as in CLDR, a stroke for `other`. */
  readonly plurals: string;
}

const rules = new Map<string, Intl.PluralRules>();
const numbers = new Map<string, Intl.NumberFormat>();
const formattersOf = ({ tag, plurals }: SpokenLanguage) => ({
  getPluralRules: (locale?: Intl.LocalesArgument, options?: Intl.PluralRulesOptions) =>
    Intl.PluralRules.supportedLocalesOf(tag).length > 0
      ? kept(rules, `${locale} ${options?.type}`, () => new Intl.PluralRules(locale, options))
      : ({ select: (count: number) => formIn(plurals, count) } as Intl.PluralRules),
  getNumberFormat: (locale?: Intl.LocalesArgument) =>
    kept(numbers, String(locale), () => new Intl.NumberFormat(locale)),
  // No message has a date in it: those come as words.
  getDateTimeFormat: (locale?: Intl.LocalesArgument) => new Intl.DateTimeFormat(locale),
});

const FORMS = { z: 'zero', o: 'one', t: 'two', f: 'few', m: 'many', '-': 'other' } as const;

/** Rules look at the last two digits of a larger number, if at any (CLDR). */
const formIn = (plurals: string, count: number): Intl.LDMLPluralRule =>
  FORMS[(plurals[count < 200 ? count : 100 + (count % 100)] ?? '-') as keyof typeof FORMS];

function kept<T>(map: Map<string, T>, key: string, make: () => T): T {
  const known = map.get(key) ?? make();
  map.set(key, known);
  return known;
}

export function sayIn(language: SpokenLanguage): Say {
  const { tag, words } = language;
  const formatters = formattersOf(language);
  return (key, ...[values]) => String(format(words[key], tag, values, { formatters }));
}
