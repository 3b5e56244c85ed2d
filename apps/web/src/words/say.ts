import { type Say, sayIn, type SpokenLanguage } from '@heliphon/core/languages/words';

/** The words of a page come within it, in the language of its house (`apps/server/src/languages`). */
const inPage = (): SpokenLanguage =>
  JSON.parse(document.getElementById('words')!.textContent) as SpokenLanguage;

let spoken: SpokenLanguage | null = null;

export const spokenLanguage = (): SpokenLanguage => (spoken ??= inPage());

/** Another language from here on: what is on the page has to be drawn again. */
export function speak(language: SpokenLanguage): void {
  spoken = language;
  document.documentElement.lang = language.tag;
  document.documentElement.dir = language.direction;
}

/** What is said to viewers, in the language of the page. */
export const say: Say = (key, ...values) => sayIn(spokenLanguage())(key, ...values);
