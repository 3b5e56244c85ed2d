/** Where something can be said that comes down to an event, from the widest to the narrowest. */
export const LEVELS = ['house', 'channel', 'series', 'event'] as const;
export type Level = (typeof LEVELS)[number];

/** What each level says itself, from the widest to the narrowest; a part that is left out comes from above. */
export type Said<T> = readonly { readonly level: Level; readonly own: Partial<T> }[];

export interface Inherited<T> {
  readonly value: T;
  /** Where each part was said; `usual` where nobody did. */
  readonly from: Readonly<Record<keyof T, Level | 'usual'>>;
}

/** @param usual - what holds where nobody says anything; names every part */
export function inherit<T extends object>(usual: T, said: Said<T>): Inherited<T> {
  const entries = (Object.keys(usual) as (keyof T)[]).map((part) => {
    const by = said.findLast(({ own }) => own[part] !== undefined);
    return [part, by ? by.own[part] : usual[part], by?.level ?? 'usual'] as const;
  });
  return {
    value: Object.fromEntries(entries.map(([part, value]) => [part, value])) as T,
    from: Object.fromEntries(entries.map(([part, , from]) => [part, from])) as Inherited<T>['from'],
  };
}
