import type { Inherited } from '@heliphon/core/inherited';

/** Parts that are changed, and those that are taken back (`undefined`). */
export type PartsChange<T> = { readonly [P in keyof T]?: T[P] | undefined };

/** A document as it would be: what is said here, and what that makes of it. */
export function changedParts<T extends object>(
  { own: kept, above }: { readonly own: Partial<T>; readonly above: Inherited<T> },
  change: PartsChange<T>,
): { own: Partial<T>; shown: Inherited<T> } {
  const said = Object.entries({ ...kept, ...change }).filter(([, value]) => value !== undefined);
  const own = Object.fromEntries(said) as Partial<T>;
  return { own, shown: { value: { ...above.value, ...own }, from: above.from } };
}
