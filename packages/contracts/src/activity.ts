import type { HappeningKind, SubjectKind } from './happenings.js';

/** One line of the activity record. */
export interface ActivityEntry {
  readonly id: string;
  readonly atMs: number;
  /** A person's id, `clock`, `node` or `system`. */
  readonly by: string;
  readonly byName: string | null;
  readonly subjectKind: SubjectKind;
  readonly subjectId: string;
  /** What it is called today; `null` once it is gone. */
  readonly subjectName: string | null;
  readonly kind: HappeningKind;
  readonly before: unknown;
  readonly after: unknown;
  readonly canUndo: boolean;
  readonly isUndone: boolean;
}

export interface ActivityQuery {
  readonly subjectId?: string;
  readonly by?: string;
  readonly kinds?: readonly HappeningKind[];
  readonly words?: string;
  readonly fromMs?: number;
  readonly toMs?: number;
}

export interface UndoLast {
  readonly subjectId: string;
}
