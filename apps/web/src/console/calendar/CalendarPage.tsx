import { type FormEvent, useState } from 'react';
import { IMPORT_LIMITS, type ImportEntry, type ImportView } from '@heliphon/contracts/calendar-import';
import { takeCalendar } from '../../data/commands.js';
import { useCan, useZone } from '../../data/house.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Field, TextArea } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { LEFT_ALONE } from '../../words/imports.js';
import { repeatWords } from '../../words/repeats.js';
import { dayAndTime } from '@heliphon/contracts/time-words';

const MEGABYTE = 1_000_000;

/** The plan as a calendar file: out of here, and into here, looked at before anything is made. */
export function CalendarPage() {
  const canEdit = useCan('events.edit');
  return (
    <div className="grid max-w-4xl gap-8 px-5 pt-4 pb-8">
      <h1 className="text-[27px]">Calendar files</h1>
      <section aria-label="Save the plan" className="grid justify-items-start gap-2">
        <h2 className="text-[19px]">Save the plan</h2>
        <p className="text-ink-soft">
          All that is planned, and what was in the last sixty days, for any calendar program. To have it
          follow by itself, make “My calendar” under Our house.
        </p>
        <a href="/api/calendar" download className={buttonClass()}>
          Save as a calendar file
        </a>
      </section>
      {canEdit && <TakeOver />}
    </div>
  );
}

function TakeOver() {
  const [file, setFile] = useState<File | null>(null);
  const [pasted, setPasted] = useState('');
  const [seen, setSeen] = useState<ImportView | null>(null);
  const [isDone, setDone] = useState(false);
  const action = useAction();
  const calendar = file ?? (pasted.trim() ? new Blob([pasted]) : null);
  const isTooLarge = calendar !== null && calendar.size > IMPORT_LIMITS.bytes;
  const forget = (): void => {
    setSeen(null);
    setDone(false);
  };
  const look = (event: FormEvent): void => {
    event.preventDefault();
    if (calendar) void action.run(async () => setSeen(await takeCalendar('preview', calendar)));
  };
  const take = (): Promise<void> =>
    action.run(async () => {
      setSeen(await takeCalendar('import', calendar!));
      setDone(true);
    });
  const wanted = seen?.entries.filter((entry) => entry.action !== 'leave').length ?? 0;
  return (
    <section aria-label="Take over a calendar" className="grid gap-4">
      <h2 className="text-[19px]">Take over a calendar</h2>
      <form onSubmit={look} className="grid gap-4">
        <Field
          label="Calendar file"
          hint={`A file whose name ends in .ics, ${IMPORT_LIMITS.bytes / MEGABYTE} MB and ${IMPORT_LIMITS.entries} entries at most. The same file twice makes nothing twice.`}
          error={isTooLarge ? 'This file is too large. Save a shorter time from the other calendar.' : null}
        >
          {(wiring) => (
            <input
              {...wiring}
              type="file"
              accept=".ics,text/calendar"
              className="min-h-10 file:mr-3 file:min-h-9 file:rounded-md file:border file:border-edge file:bg-surface file:px-3 file:font-semibold"
              onChange={(chosen) => {
                setFile(chosen.target.files?.[0] ?? null);
                forget();
              }}
            />
          )}
        </Field>
        {!file && (
          <TextArea
            label="Or its text, pasted"
            rows={4}
            value={pasted}
            onChange={(typed) => {
              setPasted(typed.target.value);
              forget();
            }}
          />
        )}
        <Fault error={action.error} />
        <Button
          type="submit"
          kind={seen ? 'plain' : 'main'}
          className="justify-self-start"
          disabled={!calendar || isTooLarge || action.isBusy}
        >
          Look at it
        </Button>
      </form>
      {seen && (
        <>
          <p role="status" className="font-semibold">
            {isDone ? doneWords(seen) : wantedWords(seen)}
          </p>
          <ul className="border-t border-line">
            {seen.entries.map((entry, index) => (
              <Entry key={`${entry.uid} ${index}`} entry={entry} isDone={isDone} />
            ))}
          </ul>
          {!isDone && wanted > 0 && (
            <Button
              kind="main"
              className="justify-self-start"
              disabled={action.isBusy}
              onClick={() => void take()}
            >
              Take over {wanted === 1 ? 'this one' : `these ${wanted}`}
            </Button>
          )}
        </>
      )}
    </section>
  );
}

function Entry({ entry, isDone }: { entry: ImportEntry; isDone: boolean }) {
  const zone = useZone();
  const { title, startsAtMs, repeats, action, reason } = entry;
  const verb = isDone
    ? { make: 'was made', change: 'was changed' }
    : { make: 'will be made', change: 'will be changed' };
  return (
    <li className="flex items-start gap-3 border-b border-line py-2">
      <span className="pt-1">
        <Mark name={action === 'leave' ? 'cancelled' : 'passed'} sizePx={16} />
      </span>
      <span className="grid flex-1">
        <span className="font-semibold">{title}</span>
        <span className="text-[13px] text-ink-soft">
          {startsAtMs !== null && dayAndTime(startsAtMs, zone)}
          {repeats && `, ${repeatWords(repeats)}`}
        </span>
      </span>
      <span className={action === 'leave' ? 'text-ink-soft' : ''}>
        {action === 'leave' ? `left alone: ${LEFT_ALONE[reason ?? 'same']}` : verb[action]}
      </span>
    </li>
  );
}

const count = (view: ImportView, action: ImportEntry['action']): number =>
  view.entries.filter((entry) => entry.action === action).length;

function wantedWords(view: ImportView): string {
  if (view.entries.length === 0) return 'There is nothing in this calendar.';
  return `${count(view, 'make')} to be made, ${count(view, 'change')} to be changed, ${count(view, 'leave')} left alone.`;
}

const doneWords = (view: ImportView): string =>
  `Taken over: ${count(view, 'make')} made, ${count(view, 'change')} changed, ${count(view, 'leave')} left alone.`;
