/** What somebody at the desk noted, with its time. */
export interface NoteView {
  readonly id: string;
  readonly atMs: number;
  readonly text: string;
  readonly byName: string;
  /** It is a chapter of the replay as well. */
  readonly isChapter: boolean;
}

export interface WriteNote {
  readonly text: string;
  /** When the key was pressed: what is typed takes a while. */
  readonly atMs: number;
}

export type EditNote = Partial<Pick<NoteView, 'text' | 'isChapter'>>;

export const NOTE_LENGTH = 120;
