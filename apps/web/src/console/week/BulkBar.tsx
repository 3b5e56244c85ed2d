import { useState } from 'react';
import { DUTIES, type Duty, onDuty } from '@heliphon/core/duties/duties';
import type { EventView } from '@heliphon/contracts/events';
import { deleteEvent, editEvent } from '../../data/events.js';
import { usePeople } from '../../data/people.js';
import { useSources } from '../../data/sources.js';
import { Button } from '../../ui/Button.js';
import { toldWithUndoOfAll } from '../../ui/undo-toast.js';
import { DUTY_WORDS } from '../../words/duties.js';
import { problemSentence } from '../../words/problems.js';
import { Sentence } from '../../ui/Sentence.js';
import { WEEK_TEXT } from '../../words/console/week.js';

const BOX = 'min-h-9 max-w-[190px] rounded-md border border-edge bg-surface px-2.5';

interface Outcome {
  readonly done: readonly EventView[];
  readonly failed: readonly { readonly event: EventView; readonly error: unknown }[];
}

/** Changes several events at once. Each by itself: what cannot be done to one says why, and the others are done. */
export function BulkBar({ events, onDone }: { events: readonly EventView[]; onDone: () => void }) {
  const { data: sources } = useSources();
  const { data: people } = usePeople();
  const [progress, setProgress] = useState<number | null>(null);
  const [failed, setFailed] = useState<Outcome['failed']>([]);
  const count = events.length === 1 ? WEEK_TEXT.oneEvent : `${events.length} events`;
  const run = async (words: string, change: (event: EventView) => Promise<unknown>): Promise<void> => {
    const outcome = await eachByItself(events, change, setProgress);
    setProgress(null);
    setFailed(outcome.failed);
    if (outcome.done.length > 0)
      toldWithUndoOfAll(
        `${outcome.done.length} of ${events.length} ${words}.`,
        outcome.done.map(({ id }) => id),
      );
    if (outcome.failed.length === 0) onDone();
  };
  const isBusy = progress !== null;
  return (
    <div
      role="group"
      aria-label={WEEK_TEXT.changeTheSelectedEvents}
      className="sticky bottom-0 mt-3 border-t border-edge bg-ground py-3"
    >
      <div className="flex flex-wrap items-center gap-3">
        <p role="status" className="font-semibold">
          {isBusy ? WEEK_TEXT.ofDone(progress, events.length) : `${count} chosen`}
        </p>
        <select
          aria-label={WEEK_TEXT.anotherSourceForThem}
          className={BOX}
          value=""
          disabled={isBusy}
          onChange={(chosen) => {
            const sourceId = chosen.target.value;
            if (sourceId)
              void run(WEEK_TEXT.haveAnotherSource, (event) =>
                editEvent(event.id, event.version, { sourceId }),
              );
          }}
        >
          <option value="">{WEEK_TEXT.anotherSource}</option>
          {sources?.items.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <select
          aria-label={WEEK_TEXT.somebodyOnDutyForThem}
          className={BOX}
          value=""
          disabled={isBusy}
          onChange={(chosen) => {
            const [duty, personId] = chosen.target.value.split(' ') as [Duty, string];
            if (personId)
              void run(WEEK_TEXT.haveSomebodyOnDuty, (event) =>
                editEvent(event.id, event.version, { duties: withDuty(event, duty, personId) }),
              );
          }}
        >
          <option value="">{WEEK_TEXT.onDuty}</option>
          {DUTIES.map((duty) => (
            <optgroup key={duty} label={DUTY_WORDS[duty].name}>
              {people?.items.map(({ id, name }) => (
                <option key={id} value={`${duty} ${id}`}>
                  {name}
                </option>
              ))}
            </optgroup>
          ))}
        </select>
        {events.some(({ isDraft }) => isDraft) && (
          <Button
            disabled={isBusy}
            onClick={() =>
              void run(WEEK_TEXT.arePublished, ({ id, version }) =>
                editEvent(id, version, { isDraft: false }),
              )
            }
          >
            {WEEK_TEXT.publishThem}
          </Button>
        )}
        <Button disabled={isBusy} onClick={() => void run(WEEK_TEXT.areDeleted, ({ id }) => deleteEvent(id))}>
          {WEEK_TEXT.deleteThem}
        </Button>
        <Button kind="quiet" disabled={isBusy} onClick={onDone}>
          {WEEK_TEXT.clearTheSelection}
        </Button>
      </div>
      {failed.length > 0 && (
        <ul role="alert" className="mt-2 text-[13px]">
          {failed.map(({ event, error }) => (
            <li key={event.id}>
              <Sentence words={WEEK_TEXT.staysAsItWas} event={<b>{event.title}</b>} />{' '}
              {problemSentence(error)}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

const withDuty = (event: EventView, duty: Duty, personId: string) => [
  ...onDuty(event.duties).filter((one) => one.duty !== duty),
  { duty, personId },
];

async function eachByItself(
  events: readonly EventView[],
  change: (event: EventView) => Promise<unknown>,
  onProgress: (done: number) => void,
): Promise<Outcome> {
  const done: EventView[] = [];
  const failed: Outcome['failed'][number][] = [];
  for (const event of events) {
    onProgress(done.length + failed.length);
    try {
      await change(event);
      done.push(event);
    } catch (error) {
      failed.push({ event, error });
    }
  }
  return { done, failed };
}
