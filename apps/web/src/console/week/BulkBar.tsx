import { useState } from 'react';
import { DUTIES, type Duty, onDuty } from '@heliphon/core/duties/duties';
import type { EventView } from '@heliphon/contracts/events';
import { deleteEvent, editEvent } from '../../data/commands.js';
import { usePeople, useSources } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { toldWithUndoOfAll } from '../../ui/undo-toast.js';
import { DUTY_WORDS } from '../../words/duties.js';
import { problemSentence } from '../../words/problems.js';

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
  const count = events.length === 1 ? 'one event' : `${events.length} events`;
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
      aria-label="Change what is chosen"
      className="sticky bottom-0 mt-3 border-t border-edge bg-ground py-3"
    >
      <div className="flex flex-wrap items-center gap-3">
        <p role="status" className="font-semibold">
          {isBusy ? `${progress} of ${events.length} done …` : `${count} chosen`}
        </p>
        <select
          aria-label="Another source for them"
          className={BOX}
          value=""
          disabled={isBusy}
          onChange={(chosen) => {
            const sourceId = chosen.target.value;
            if (sourceId)
              void run('have another source', (event) => editEvent(event.id, event.version, { sourceId }));
          }}
        >
          <option value="">Another source …</option>
          {sources?.items.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <select
          aria-label="Somebody on duty for them"
          className={BOX}
          value=""
          disabled={isBusy}
          onChange={(chosen) => {
            const [duty, personId] = chosen.target.value.split(' ') as [Duty, string];
            if (personId)
              void run('have somebody on duty', (event) =>
                editEvent(event.id, event.version, { duties: withDuty(event, duty, personId) }),
              );
          }}
        >
          <option value="">On duty …</option>
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
              void run('are published', ({ id, version }) => editEvent(id, version, { isDraft: false }))
            }
          >
            Publish them
          </Button>
        )}
        <Button disabled={isBusy} onClick={() => void run('are deleted', ({ id }) => deleteEvent(id))}>
          Delete them
        </Button>
        <Button kind="quiet" disabled={isBusy} onClick={onDone}>
          Choose none
        </Button>
      </div>
      {failed.length > 0 && (
        <ul role="alert" className="mt-2 text-[13px]">
          {failed.map(({ event, error }) => (
            <li key={event.id}>
              <b>{event.title}</b> stays as it was. {problemSentence(error)}
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
