import { toast } from 'sonner';
import { undoLast } from '../data/activity.js';
import { UI_TEXT } from '../words/ui.js';
import { problemSentence } from '../words/problems.js';

const SHOWN_MS = 10_000;

/** Says what was done, with a way to take it back. @param subjectId - what it was done to. */
export const toldWithUndo = (words: string, subjectId: string): void => toldWithUndoOfAll(words, [subjectId]);

/** The same for what was done to several. */
export function toldWithUndoOfAll(words: string, subjectIds: readonly string[]): void {
  toast(words, {
    duration: SHOWN_MS,
    action: {
      label: UI_TEXT.undo,
      onClick: () => {
        takeBackAll(subjectIds).then(
          () => toast(UI_TEXT.takenBack),
          (error: unknown) => toast.error(problemSentence(error)),
        );
      },
    },
  });
}

async function takeBackAll(subjectIds: readonly string[]): Promise<void> {
  for (const id of subjectIds) await undoLast(id);
}
