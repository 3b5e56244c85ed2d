import type { LanguageRemark } from '@heliphon/core/languages/read-language';
import type { Filled } from '../filled.js';

/** What is said where the language of the pages is chosen. en-GB. */
export const LANGUAGES_TEXT = {
  languages: 'the languages',
  ofYourPages: 'Language of your pages',
  whatItIsFor:
    'What viewers read on your pages, in embeds and in invitations to watch. Your own words stay as you wrote them, and the console stays English.',
  useIt: 'Use this language',
  nowSpeaks: (name: Filled) => `Your pages speak ${name} now.`,
  state: 'See the page',
  preview: 'The page in this language',
  noPageYet: 'Once an event is published, its page is shown here in the language you choose.',
  anyOther: 'Any other language',
  howToMake:
    'Download a file, translate what stands after each colon with a text editor, and choose it here. Leave {names in braces} as they are. Nothing changes for viewers until you keep it and use it.',
  download: (name: Filled) => `Download ${name} as a file`,
  chooseFile: 'Choose a language file',
  tried: (name: Filled) => `This is how ${name} from your file would look. It is not kept yet.`,
  keep: (name: Filled) => `Keep ${name}`,
  isKept: (name: Filled) => `${name} is kept.`,
  letGo: 'Leave it',
  yourOwn: 'Your own languages',
  isComplete: 'complete',
  missing: (count: number) => (count === 1 ? '1 sentence is English' : `${count} sentences are English`),
  remove: (name: Filled) => `Remove ${name}`,
  removed: (name: Filled) => `${name} has been removed.`,
  allIsWell: 'Every sentence is there.',
  andMore: (count: number) => `and ${count} more`,
  used: (name: Filled) => `${name}, in use`,
} as const;

/** What the remark of a file is about, and what happens there. */
export function remarkWords(remark: LanguageRemark): string {
  switch (remark.kind) {
    case 'missing':
      return 'is not there: English stands in';
    case 'unreadable':
      return 'cannot be read, often because a brace is missing: English stands in';
    case 'too-long':
      return 'is far too long: English stands in';
    case 'unknown':
      return 'is nothing we say, and is left out';
    case 'unknown-value':
      return `asks for {${remark.value}}, which we do not have there: English stands in`;
    case 'plural':
      return `has no form for “${remark.forms.join('”, “')}”, which this language needs: “other” stands in`;
  }
}
