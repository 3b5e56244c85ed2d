import { type FormEvent, useState } from 'react';
import { NOTE_LENGTH } from '@heliphon/contracts/notes';
import type { EventView } from '@heliphon/contracts/events';
import { clock } from '@heliphon/contracts/time-words';
import { serverNowMs } from '../../data/server-clock.js';
import { writeNote } from '../../data/notes.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { useKey } from '../../ui/useKey.js';
import { NOTE_TEXT } from '../../words/console/notes.js';

/** A note with the time at which its key was pressed: by a press, or of `N`. */
export function NoteLine({ event }: { event: EventView }) {
  const canNote = useCan('events.move') && event.state === 'air';
  const [atMs, setAtMs] = useState<number | null>(null);
  const begin = (): void => setAtMs(serverNowMs());
  useKey('n', canNote && atMs === null ? begin : null);
  if (!canNote) return null;
  const since = (ms: number): string => clock(ms - (event.airAtMs ?? ms));
  return atMs === null ? (
    <Button large onClick={begin}>
      {NOTE_TEXT.note} <kbd className="figures text-[13px] text-ink-soft max-lg:hidden">N</kbd>
    </Button>
  ) : (
    <NoteForm label={NOTE_TEXT.noteAt(since(atMs))} event={event} atMs={atMs} onDone={() => setAtMs(null)} />
  );
}

interface NoteFormProps {
  readonly label: string;
  readonly event: EventView;
  readonly atMs: number;
  readonly onDone: () => void;
}

function NoteForm({ label, event, atMs, onDone }: NoteFormProps) {
  const [text, setText] = useState('');
  const action = useAction();
  const submit = (submitted: FormEvent): void => {
    submitted.preventDefault();
    if (text.trim() === '') return onDone();
    void action.run(async () => {
      await writeNote(event.id, { text: text.trim(), atMs });
      onDone();
    });
  };
  return (
    <form
      onSubmit={submit}
      onKeyDown={(pressed) => pressed.key === 'Escape' && onDone()}
      className="flex min-h-11 w-full shrink-0 items-center gap-2"
    >
      <input
        aria-label={label}
        placeholder={label}
        autoFocus
        value={text}
        maxLength={NOTE_LENGTH}
        onChange={(typed) => setText(typed.target.value)}
        className="min-h-9 min-w-0 flex-1 rounded-md border border-edge bg-surface px-3"
      />
      <Button kind="main" type="submit" disabled={action.isBusy}>
        {NOTE_TEXT.keep}
      </Button>
      <Button onClick={onDone}>{NOTE_TEXT.cancel}</Button>
      <Fault error={action.error} isSmall />
    </form>
  );
}
