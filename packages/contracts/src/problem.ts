/** RFC 9457 problem details. `code` with `params` is what a catalogue turns into a sentence. */
export interface Problem {
  readonly type: 'about:blank';
  readonly status: number;
  readonly title: string;
  readonly code: string;
  readonly params: Readonly<Record<string, string | number>>;
  /** Which fields were wrong, and how. */
  readonly fields?: readonly { readonly path: string; readonly message: string }[];
  /** The present state of what was edited, when an edit came too late. */
  readonly current?: unknown;
}

export interface Page<T> {
  readonly items: readonly T[];
  /** Pass as `?after=` for the next page; `null` on the last. */
  readonly next: string | null;
}
