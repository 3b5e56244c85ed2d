/** What viewers of a programme have in the picture. */
export type ViewersHave =
  | { readonly kind: 'picture'; readonly sourceId: string }
  | { readonly kind: 'film'; readonly fileId: string }
  /** The picture is away, and words of the house stand in for it. */
  | { readonly kind: 'slate' }
  /** The picture stands, or there has not been one yet. */
  | { readonly kind: 'nothing' };

export const VIEWERS_HAVE_KINDS = [
  'picture',
  'film',
  'slate',
  'nothing',
] as const satisfies readonly ViewersHave['kind'][];

/** From an instant on, until the next one says otherwise. */
export type ViewersHaveSince = ViewersHave & { readonly fromMs: number };

/** For a stretch of time. */
export type ViewersHad = ViewersHave & { readonly fromMs: number; readonly toMs: number };

/** Whether viewers notice no difference between two of them in kind or origin. */
export const isSameHave = (one: ViewersHave, other: ViewersHave): boolean =>
  one.kind === other.kind && subjectOf(one) === subjectOf(other);

/** The source or file that it comes from; `null` for a slate, and for nothing. */
export function subjectOf(have: ViewersHave): string | null {
  switch (have.kind) {
    case 'picture':
      return have.sourceId;
    case 'film':
      return have.fileId;
    case 'slate':
    case 'nothing':
      return null;
  }
}

/** What comes from a source or a file, or from neither. */
export function haveOf(kind: ViewersHave['kind'], subjectId: string | null): ViewersHave {
  if (kind === 'slate') return { kind };
  if (kind === 'nothing' || subjectId === null) return { kind: 'nothing' };
  return kind === 'picture' ? { kind, sourceId: subjectId } : { kind, fileId: subjectId };
}

/**
 * What viewers had between two instants, whole and without a gap.
 * @param changes - in order of time; before the first there was nothing.
 * @param toMs - the end, or now.
 */
export function viewersHad(changes: readonly ViewersHaveSince[], fromMs: number, toMs: number): ViewersHad[] {
  const spans: ViewersHad[] = [];
  const add = (have: ViewersHave, spanFromMs: number, spanToMs: number): void => {
    const [begins, ends] = [Math.max(fromMs, spanFromMs), Math.min(toMs, spanToMs)];
    if (ends <= begins) return;
    const last = spans.at(-1);
    if (last && isSameHave(last, have)) spans[spans.length - 1] = { ...last, toMs: ends };
    else spans.push({ ...haveOf(have.kind, subjectOf(have)), fromMs: begins, toMs: ends });
  };
  add({ kind: 'nothing' }, fromMs, changes[0]?.fromMs ?? toMs);
  changes.forEach((change, nth) => add(change, change.fromMs, changes[nth + 1]?.fromMs ?? toMs));
  return spans;
}

/** How many times, and how long in all, viewers had something of a kind. */
export function timesOf(
  kind: ViewersHave['kind'],
  spans: readonly ViewersHad[],
): { readonly times: number; readonly totalMs: number } {
  const those = spans.filter((span) => span.kind === kind);
  return { times: those.length, totalMs: those.reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0) };
}

/** The part of the spans from an instant on. */
export const spansFrom = (spans: readonly ViewersHad[], fromMs: number): ViewersHad[] =>
  spans.flatMap((span) => (span.toMs <= fromMs ? [] : [{ ...span, fromMs: Math.max(fromMs, span.fromMs) }]));
