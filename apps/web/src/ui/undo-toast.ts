import { toast } from 'sonner';
import { undoLast } from '../data/commands.js';
import { problemSentence } from '../words/problems.js';

const SHOWN_MS = 10_000;

/** Says what was done, with a way to take it back. @param subjectId - what it was done to. */
export function toldWithUndo(words: string, subjectId: string): void {
  toast(words, {
    duration: SHOWN_MS,
    action: {
      label: 'Undo',
      onClick: () => {
        undoLast(subjectId).then(
          () => toast('Taken back.'),
          (error: unknown) => toast.error(problemSentence(error)),
        );
      },
    },
  });
}
