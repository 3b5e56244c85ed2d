import type { Shown, SourceView } from '@heliphon/contracts/sources';

/** What a source shows that nobody sends to. */
export function shownWords({ kind, shows }: Pick<SourceView, keyof Shown | 'shows'>): string {
  if (kind === 'programme') return `shows what viewers see of “${shows ?? 'a deleted event'}”`;
  return `plays “${shows ?? 'a deleted film'}” once`;
}
