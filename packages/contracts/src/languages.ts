import type { LanguageRemark } from '@heliphon/core/languages/read-language';
import type { SpokenLanguage } from '@heliphon/core/languages/words';

export interface LanguageView {
  /** As BCP 47 writes it. */
  readonly tag: string;
  readonly name: string;
  /** Made by the house; `null`: one of ours. */
  readonly ownId: string | null;
  /** How many sentences of it are English. */
  readonly missing: number;
}

export interface LanguagesView {
  /** Of ours, and of the house's own, which stand in the place of ours. */
  readonly languages: readonly LanguageView[];
  /** Of a page to try one out on; `null` where the house has none yet. */
  readonly slug: string | null;
}

/** A language file that was looked at. */
export interface TriedLanguage {
  readonly tag: string;
  readonly name: string;
  readonly spoken: SpokenLanguage;
  readonly remarks: readonly LanguageRemark[];
}
