import { compileLanguage, type LanguageWords } from '@heliphon/core/languages/compile-language';
import { ENGLISH } from '@heliphon/core/languages/english';
import { WELSH } from '@heliphon/core/languages/welsh';
import { type Say, sayIn, type SpokenLanguage } from '@heliphon/core/languages/words';

interface ShippedLanguage {
  readonly tag: string;
  readonly name: string;
  readonly words: LanguageWords;
  readonly spoken: SpokenLanguage;
}

const shipped = (tag: string, name: string, words: LanguageWords): ShippedLanguage => ({
  tag,
  name,
  words,
  spoken: compileLanguage(tag, words),
});

export const SHIPPED_ENGLISH = shipped('en-GB', 'English', ENGLISH);

/** The languages that every house has. */
export const SHIPPED_LANGUAGES: readonly ShippedLanguage[] = [
  SHIPPED_ENGLISH,
  shipped('cy', 'Cymraeg', WELSH),
];

/** Words of one of ours; English for any other. */
export const sayShipped = (tag: string): Say =>
  sayIn((SHIPPED_LANGUAGES.find((known) => known.tag === tag) ?? SHIPPED_ENGLISH).spoken);
