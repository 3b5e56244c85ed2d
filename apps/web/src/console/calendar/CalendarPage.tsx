import { type FormEvent, useState } from 'react';
import { IMPORT_LIMITS, type ImportEntry, type ImportView } from '@heliphon/contracts/calendar-import';
import { takeCalendar } from '../../data/calendars.js';
import { useCan, useZone } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Field, TextArea } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { LEFT_ALONE } from '../../words/imports.js';
import { repeatWords } from '../../words/repeats.js';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { CALENDAR_TEXT } from '../../words/console/calendar.js';

const MEGABYTE = 1_000_000;

/** The plan as a calendar file: out of here, and into here, looked at before anything is made. */
export function CalendarPage() {
  const canEdit = useCan('events.edit');
  return (
    <div className="grid max-w-4xl gap-8 px-5 pt-4 pb-8">
      <h1 className="text-[27px]">{CALENDAR_TEXT.calendarFiles}</h1>
      <section aria-label={CALENDAR_TEXT.saveThePlan} className="grid justify-items-start gap-2">
        <h2 className="text-[19px]">{CALENDAR_TEXT.saveThePlan}</h2>
        <p className="text-ink-soft">{CALENDAR_TEXT.everythingPlannedAndTheLast}</p>
        <a href="/api/calendar" download className={buttonClass()}>
          {CALENDAR_TEXT.saveAsACalendarFile}
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
    <section aria-label={CALENDAR_TEXT.importACalendar} className="grid gap-4">
      <h2 className="text-[19px]">{CALENDAR_TEXT.importACalendar}</h2>
      <form onSubmit={look} className="grid gap-4">
        <Field
          label={CALENDAR_TEXT.calendarFile}
          hint={CALENDAR_TEXT.aFileWhoseNameEnds(IMPORT_LIMITS.bytes / MEGABYTE, IMPORT_LIMITS.entries)}
          error={isTooLarge ? CALENDAR_TEXT.thisFileIsTooLarge : null}
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
            label={CALENDAR_TEXT.orPasteItsText}
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
          {CALENDAR_TEXT.lookAtIt}
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
              {wanted === 1 ? CALENDAR_TEXT.importThisOne : CALENDAR_TEXT.importThese(wanted)}
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
    ? { make: 'added', change: CALENDAR_TEXT.wasChanged }
    : { make: CALENDAR_TEXT.willBeAdded, change: CALENDAR_TEXT.willBeChanged };
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
        {action === 'leave' ? CALENDAR_TEXT.leftAlone(LEFT_ALONE[reason ?? 'same']) : verb[action]}
      </span>
    </li>
  );
}

const count = (view: ImportView, action: ImportEntry['action']): number =>
  view.entries.filter((entry) => entry.action === action).length;

function wantedWords(view: ImportView): string {
  if (view.entries.length === 0) return CALENDAR_TEXT.thisCalendarIsEmpty;
  return CALENDAR_TEXT.toAddToUpdateLeft(count(view, 'make'), count(view, 'change'), count(view, 'leave'));
}

const doneWords = (view: ImportView): string =>
  CALENDAR_TEXT.importedAddedUpdatedLeftAlone(
    count(view, 'make'),
    count(view, 'change'),
    count(view, 'leave'),
  );
