import type { Shown, SourceView } from '@heliphon/contracts/sources';

/** What a source shows that nobody sends to. */
export function shownWords({ kind, shows }: Pick<SourceView, keyof Shown | 'shows'>): string {
  if (kind === 'programme') return `shows what viewers get of “${shows ?? 'an event that is gone'}”`;
  return `plays “${shows ?? 'a film that is gone'}” once`;
}
