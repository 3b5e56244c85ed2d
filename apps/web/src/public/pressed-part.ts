import type { LookPart } from '@heliphon/core/appearance/look';
import type { PressedPart } from '@heliphon/contracts/try-out';

/** What of a look is seen where, the narrower first; `null` where it is none of the look's. */
const SEEN_IN: readonly (readonly [selector: string, part: LookPart | null])[] = [
  ['[data-look="warm"]', 'warm'],
  ['[data-look="none"]', null],
  ['[data-look="names"]', 'names'],
  ['.public-button, [data-look="accent"]', 'accent'],
  ['.public-link, [data-look="links"]', 'links'],
  ['footer', 'foot'],
  ['h1, h2, p, li, label', 'text'],
  ['aside', 'sheet'],
  ['body', 'ground'],
];

function partAt(target: Element): LookPart | null {
  for (let at: Element | null = target; at; at = at.parentElement) {
    const found = SEEN_IN.find(([selector]) => at!.matches(selector));
    if (found) return found[1];
  }
  return null;
}

/** Tells the console what is pressed on; links lead nowhere here. @returns ends it */
export function tellWhatIsPressed(): () => void {
  const pressed = (event: MouseEvent): void => {
    const target = event.target as Element;
    if (target.closest('a, .public-link')) {
      event.preventDefault();
      event.stopPropagation();
    }
    const part = partAt(target);
    if (part === null) return;
    const told: PressedPart = { type: 'pressed-part', part };
    window.parent.postMessage(told, location.origin);
  };
  document.addEventListener('click', pressed, true);
  return () => document.removeEventListener('click', pressed, true);
}
