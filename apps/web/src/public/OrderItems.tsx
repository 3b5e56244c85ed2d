import { useState } from 'react';
import { clockAt } from '@heliphon/core/order/order-text';
import { type OrderChange, type OrderItem, presentItem } from '@heliphon/core/order/order-sheet';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { timeOfDay } from '../words/public-time.js';
import { keepMargin, type Margin, marginFile, readMargin } from './own-margin.js';
import { say } from '../words/say.js';

interface OrderItemsProps {
  readonly event: PublicEvent;
  readonly items: readonly OrderItem[];
  readonly changes: readonly OrderChange[];
  /** The instant that is seen. */
  readonly dateMs: number;
  /** To an instant of the programme; `null` while there is nothing to go back in. */
  readonly onGoTo: ((dateMs: number) => void) | null;
}

/** The order on its own time: the present item open with its words, the others a press away, and one's own margin. */
export function OrderItems({ event, items, changes, dateMs, onGoTo }: OrderItemsProps) {
  const { eventId } = event.chat;
  const [margin, setMargin] = useState(() => readMargin(eventId));
  const [isKept, setKept] = useState(true);
  const [opened, setOpened] = useState<Readonly<Record<string, boolean>>>({});
  const present = presentItem(changes, dateMs);
  const presentAt = items.findIndex(({ id }) => id === present);
  const startsAt = timeOfDay(event.startsAtMs);
  const write = (id: string, text: string): void => {
    const { [id]: _before, ...others } = margin;
    const next: Margin = text === '' ? others : { ...others, [id]: text };
    setMargin(next);
    setKept(keepMargin(eventId, next));
  };
  return (
    <div className="order flex-1 px-5 py-2">
      <ol>
        {items.map((item, at) => {
          const isPresent = item.id === present;
          const isOpen = opened[item.id] ?? (isPresent || margin[item.id] !== undefined);
          const from = changes.find(({ itemId }) => itemId === item.id);
          return (
            <li
              key={item.id}
              className="order-item"
              data-present={isPresent || undefined}
              data-past={at < presentAt || undefined}
              aria-current={isPresent ? 'step' : undefined}
            >
              <h2>
                <span className="order-time figures">
                  {item.atMinutes === null ? '' : clockAt(item.atMinutes, startsAt)}
                </span>
                <button
                  type="button"
                  aria-expanded={isOpen}
                  onClick={() => setOpened({ ...opened, [item.id]: !isOpen })}
                >
                  {item.title}
                </button>
              </h2>
              <div hidden={!isOpen} className="order-inside">
                {item.words && (
                  <p dir="auto" className="order-words">
                    {item.words}
                  </p>
                )}
                <MarginNote
                  title={item.title}
                  text={margin[item.id]}
                  onWrite={(text) => write(item.id, text)}
                />
                {onGoTo && from && !isPresent && (
                  <button type="button" className="public-link" onClick={() => onGoTo(from.atMs)}>
                    {say('event.seeAgain')}
                  </button>
                )}
              </div>
            </li>
          );
        })}
      </ol>
      <p className="order-actions">
        <button type="button" className="public-link" onClick={() => window.print()}>
          {say('sheet.print')}
        </button>
        {Object.keys(margin).length > 0 && (
          <a
            className="public-link"
            download={`${event.slug}-my-margin.txt`}
            href={`data:text/plain;charset=utf-8,${encodeURIComponent(marginFile(event.title, items, margin))}`}
          >
            {say('sheet.saveNotes')}
          </a>
        )}
      </p>
      {!isKept && (
        <p role="status" className="text-[0.9375rem]">
          {say('sheet.notStored')}
        </p>
      )}
    </div>
  );
}

interface MarginNoteProps {
  readonly title: string;
  readonly text: string | undefined;
  readonly onWrite: (text: string) => void;
}

/** Room to write beside an item. */
function MarginNote({ title, text, onWrite }: MarginNoteProps) {
  const [isWriting, setWriting] = useState(text !== undefined);
  if (!isWriting)
    return (
      <button
        type="button"
        className="order-margin"
        aria-label={say('sheet.makeNoteOn', { title })}
        onClick={() => setWriting(true)}
      >
        {say('sheet.makeNote')}
      </button>
    );
  return (
    <textarea
      aria-label={say('sheet.myNote', { title })}
      placeholder={say('sheet.onlyYou')}
      className="order-note"
      rows={2}
      maxLength={2000}
      defaultValue={text}
      autoFocus={text === undefined}
      onChange={(typed) => onWrite(typed.target.value)}
      onBlur={(left) => left.target.value === '' && setWriting(false)}
    />
  );
}
