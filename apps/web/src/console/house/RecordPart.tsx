import { useState } from 'react';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import { undoHappening, useActivity } from '../../data/activity.js';
import { useCan, useZone } from '../../data/session.js';
import { usePeople } from '../../data/people.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault, InsteadOfRows } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { actorWords, differences, happeningWords } from '../../words/happenings.js';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** Who changed what, before and after: searched, and undone. */
export function RecordPart() {
  const { data: people } = usePeople();
  const [words, setWords] = useState('');
  const [by, setBy] = useState('');
  const [pages, setPages] = useState<readonly (string | null)[]>([null]);
  const filter = new URLSearchParams({
    limit: '40',
    ...(words.trim() ? { words: words.trim() } : {}),
    ...(by ? { by } : {}),
  }).toString();
  const search = (change: () => void): void => {
    change();
    setPages([null]);
  };
  return (
    <div className="max-w-4xl">
      <div className="mb-4 grid gap-3 sm:grid-cols-[1fr_240px]">
        <TextField
          label={HOUSE_TEXT.searchTheRecord}
          type="search"
          value={words}
          onChange={(typed) => search(() => setWords(typed.target.value))}
        />
        <SelectField
          label={HOUSE_TEXT.doneBy}
          value={by}
          onChange={(value) => search(() => setBy(value))}
          options={[
            { value: '', label: 'Everybody' },
            ...(people?.items ?? []).map(({ id, name }) => ({ value: id, label: name })),
            { value: 'clock', label: HOUSE_TEXT.theClock },
            { value: 'node', label: HOUSE_TEXT.theMediaNode },
          ]}
        />
      </div>
      <ul>
        {pages.map((after, index) => (
          <RecordRows
            key={after ?? 'first'}
            query={after ? `${filter}&after=${after}` : filter}
            isLast={index === pages.length - 1}
            onMore={(next) => setPages([...pages, next])}
          />
        ))}
      </ul>
    </div>
  );
}

function RecordRows({
  query,
  isLast,
  onMore,
}: {
  query: string;
  isLast: boolean;
  onMore: (next: string) => void;
}) {
  const { data, error, mutate } = useActivity(query);
  if (error || !data || data.items.length === 0)
    return (
      <InsteadOfRows
        error={error}
        onRetry={() => void mutate()}
        isLoading={!data}
        what={HOUSE_TEXT.theRecord}
        empty={HOUSE_TEXT.nothingFound}
      />
    );
  const { next } = data;
  return (
    <>
      {data.items.map((entry) => (
        <RecordRow key={entry.id} entry={entry} />
      ))}
      {isLast && next && (
        <li className="py-4">
          <Button onClick={() => onMore(next)}>{HOUSE_TEXT.showOlderOnes}</Button>
        </li>
      )}
    </>
  );
}

/** One happening: who did what when, what it changed, and whether it can be undone. */
export function RecordRow({ entry }: { entry: ActivityEntry }) {
  const zone = useZone();
  const canUndo = useCan('events.edit') && entry.canUndo;
  const action = useAction();
  const changes = differences(entry.before, entry.after, zone);
  return (
    <li className="flex flex-wrap items-start gap-x-4 gap-y-1 border-t border-line py-2.5">
      <span className="figures w-36 shrink-0 text-[13px] leading-6 text-ink-soft">
        {dayAndTime(entry.atMs, zone)}
      </span>
      <div className="min-w-0 flex-1">
        <p className={entry.isUndone ? 'text-ink-soft line-through' : ''}>
          {happeningWords(entry)}{' '}
          <span className="text-ink-soft">{HOUSE_TEXT.by(actorWords(entry.by, entry.byName))}</span>
        </p>
        {changes.length > 0 && (
          <dl className="grid grid-cols-[auto_1fr] gap-x-3 text-[13px] text-ink-soft">
            {changes.map((change) => (
              <div key={change.field} className="contents">
                <dt>{change.field}</dt>
                <dd className="min-w-0 break-words">
                  <s>{change.before}</s> → {change.after}
                </dd>
              </div>
            ))}
          </dl>
        )}
        <Fault error={action.error} isSmall />
      </div>
      {canUndo && (
        <Button onClick={() => void action.run(() => undoHappening(entry.id))} disabled={action.isBusy}>
          Undo<span className="sr-only">: {happeningWords(entry)}</span>
        </Button>
      )}
    </li>
  );
}
