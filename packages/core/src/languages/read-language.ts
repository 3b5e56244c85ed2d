import { type MessageFormatElement, parse, TYPE } from '@formatjs/icu-messageformat-parser';
import { refuse, type Result, succeed } from '../result.js';
import { knownTag } from './calendar-words.js';
import { type LanguageWords, WORD_KEYS } from './compile-language.js';
import { ENGLISH } from './english.js';
import type { WordKey } from './words.js';

export const LANGUAGE_FORMAT = 'heliphon.language';
export const LANGUAGE_VERSION = 1;
const MOST_NAME_LETTERS = 60;
/** The longest of ours has under 400. */
const MOST_LETTERS = 1500;

/** A language as its file says it (`docs/languages.md`). */
export interface LanguageFile {
  readonly tag: string;
  /** As its speakers call it. */
  readonly name: string;
  readonly words: LanguageWords;
}

/** What of a file is not used, or not all that the language needs. English stands in except for a plural, where `other` does. */
export type LanguageRemark =
  | { readonly kind: 'missing' | 'unreadable' | 'too-long'; readonly key: WordKey }
  | { readonly kind: 'unknown'; readonly key: string }
  /** It asks for a value that there is none of. */
  | { readonly kind: 'unknown-value'; readonly key: WordKey; readonly value: string }
  /** Forms that the language has and the message has not, such as `few`. */
  | { readonly kind: 'plural'; readonly key: WordKey; readonly forms: readonly string[] };

export type LanguageFault = 'language-no-file' | 'language-version' | 'language-tag' | 'language-name';

export interface ReadLanguage {
  readonly language: LanguageFile;
  readonly remarks: readonly LanguageRemark[];
}

/**
 * Reads a language that somebody made.
 * @param file - what JSON gave
 */
export function readLanguage(file: unknown): Result<ReadLanguage, LanguageFault> {
  if (!isRecord(file) || file.format !== LANGUAGE_FORMAT || !isRecord(file.words))
    return refuse('language-no-file');
  if (file.version !== LANGUAGE_VERSION) return refuse('language-version');
  const tag = canonicalTag(file.tag);
  if (!tag) return refuse('language-tag');
  const name = typeof file.name === 'string' ? file.name.trim() : '';
  if (name === '' || name.length > MOST_NAME_LETTERS) return refuse('language-name');
  const words: Partial<Record<WordKey, string>> = {};
  const remarks: LanguageRemark[] = [];
  for (const key of WORD_KEYS) {
    const message = file.words[key];
    const found = typeof message === 'string' && message.trim() !== '' ? judge(key, message, tag) : 'missing';
    if (typeof found === 'string') {
      remarks.push({ kind: found, key });
      continue;
    }
    if (found?.kind !== 'unknown-value') words[key] = message as string;
    if (found) remarks.push(found);
  }
  const known = new Set<string>(WORD_KEYS);
  for (const key of Object.keys(file.words)) if (!known.has(key)) remarks.push({ kind: 'unknown', key });
  return succeed({ language: { tag, name, words }, remarks });
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** BCP 47 in its canonical form; `null` where it has none. */
function canonicalTag(tag: unknown): string | null {
  try {
    return typeof tag === 'string' ? (Intl.getCanonicalLocales(tag)[0] ?? null) : null;
  } catch {
    return null;
  }
}

function judge(
  key: WordKey,
  message: string,
  tag: string,
): LanguageRemark | 'unreadable' | 'too-long' | null {
  if (message.length > MOST_LETTERS) return 'too-long';
  const asked = partsOf(message);
  if (!asked) return 'unreadable';
  const given = partsOf(ENGLISH[key])!.values;
  const unknown = [...asked.values].find((value) => !given.has(value));
  if (unknown !== undefined) return { kind: 'unknown-value', key, value: unknown };
  if (!asked.forms) return null;
  const needed = new Intl.PluralRules(knownTag(tag)).resolvedOptions().pluralCategories;
  const forms = needed.filter((form) => !asked.forms!.has(form));
  return forms.length > 0 ? { kind: 'plural', key, forms } : null;
}

interface MessageParts {
  readonly values: ReadonlySet<string>;
  /** That every plural in it has; `null` for none. */
  readonly forms: ReadonlySet<string> | null;
}

/** `null`: no ICU MessageFormat, or with what none of ours has (elements, dates, numbers in a form of their own). */
function partsOf(message: string): MessageParts | null {
  const values = new Set<string>();
  let forms: Set<string> | null = null;
  const walk = (elements: readonly MessageFormatElement[]): boolean =>
    elements.every((element) => {
      switch (element.type) {
        case TYPE.literal:
        case TYPE.pound:
          return true;
        case TYPE.argument:
          values.add(element.value);
          return true;
        case TYPE.select:
        case TYPE.plural: {
          values.add(element.value);
          if (element.type === TYPE.plural) {
            const own = new Set(Object.keys(element.options));
            forms = forms ? new Set([...forms].filter((form) => own.has(form))) : own;
          }
          return Object.values(element.options).every((option) => walk(option.value));
        }
        default:
          return false;
      }
    });
  try {
    return walk(parse(message)) ? { values, forms } : null;
  } catch {
    return null;
  }
}
