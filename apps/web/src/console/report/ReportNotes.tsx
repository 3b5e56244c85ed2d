import type { NoteView } from '@heliphon/contracts/notes';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { editNote, removeNote, useNotes } from '../../data/notes.js';
import { useCan, useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { NOTE_TEXT } from '../../words/console/notes.js';

/** What the desk noted; each can become a chapter of the replay. */
export function ReportNotes({ eventId }: { eventId: string }) {
  const { data } = useNotes(eventId);
  if (!data) return null;
  if (data.items.length === 0) return <p>{NOTE_TEXT.noNotes}</p>;
  return (
    <ul className="grid gap-1">
      {data.items.map((note) => (
        <Note key={note.id} eventId={eventId} note={note} />
      ))}
    </ul>
  );
}

function Note({ eventId, note }: { eventId: string; note: NoteView }) {
  const zone = useZone();
  const canEdit = useCan('events.move');
  const action = useAction();
  const { id, atMs, text, byName, isChapter } = note;
  const remove = async (): Promise<void> => {
    await removeNote(eventId, id);
    toldWithUndo(NOTE_TEXT.removed, eventId);
  };
  return (
    <li className="flex flex-wrap items-center gap-x-3">
      <span className="figures text-ink-soft">{timeOfDay(atMs, zone)}</span>
      <span className="min-w-0 flex-1">
        {text} <span className="text-[13px] text-ink-soft">{NOTE_TEXT.by(byName)}</span>
      </span>
      <Fault error={action.error} isSmall />
      {canEdit && (
        <span className="flex gap-2 print:hidden">
          <Button
            aria-pressed={isChapter}
            disabled={action.isBusy}
            onClick={() => void action.run(() => editNote(eventId, id, { isChapter: !isChapter }))}
          >
            {isChapter ? NOTE_TEXT.isChapter : NOTE_TEXT.makeChapter}
            <span className="sr-only">: {text}</span>
          </Button>
          <Button disabled={action.isBusy} onClick={() => void action.run(remove)}>
            {NOTE_TEXT.remove}
            <span className="sr-only">: {text}</span>
          </Button>
        </span>
      )}
    </li>
  );
}
