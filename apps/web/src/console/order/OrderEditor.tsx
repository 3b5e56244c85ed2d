import { useState } from 'react';
import { keepNames, readOrder, writeOrder as asText } from '@heliphon/core/order/order-text';
import { ORDER_LIMITS, type OrderItem } from '@heliphon/core/order/order-sheet';
import type { OrderView } from '@heliphon/contracts/order';
import { writeOrder } from '../../data/commands.js';
import { randomId } from '../../data/random-id.js';
import { Button } from '../../ui/Button.js';
import { TextArea } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { OrderPreview } from './OrderPreview.js';

interface OrderEditorProps {
  readonly path: string;
  readonly order: OrderView;
  /** By the clock on the wall, `10:30`. */
  readonly startsAt: string;
  readonly canEdit: boolean;
}

const EXAMPLE = `10:30 Bell and welcome
10:36 Hymn: The lamp upon the water
  The lamp upon the water
  is steady though it sways;
10:44 The blessing of the boats`;

/** The order as plain text, typed or pasted, and beside it how people will see it. */
export function OrderEditor({ path, order, startsAt, canEdit }: OrderEditorProps) {
  /** What the words here were made upon: somebody else may have saved another since. */
  const [base, setBase] = useState(order);
  const [text, setText] = useState(() => asText(order.items, startsAt));
  const [isChanged, setChanged] = useState(false);
  const [hasSaved, setSaved] = useState(false);
  const saving = useAction();
  const items = keepNames(readOrder(text, startsAt), base.items, newName);
  const wrong = wrongWith(items);
  const isOther =
    order.version !== base.version || JSON.stringify(order.items) !== JSON.stringify(base.items);
  const take = (theirs: OrderView): void => {
    setBase(theirs);
    setText(asText(theirs.items, startsAt));
    setChanged(false);
  };
  if (isOther && !isChanged && !saving.isBusy) take(order);
  const save = (version: number): Promise<void> =>
    saving.run(async () => {
      take(await writeOrder(path, version, items));
      setSaved(true);
    });
  return (
    <div className="grid gap-8 lg:grid-cols-2">
      <fieldset disabled={!canEdit} className="grid min-w-0 content-start gap-3">
        <TextArea
          label="The order, as text"
          rows={22}
          spellCheck={false}
          placeholder={EXAMPLE}
          value={text}
          error={wrong}
          hint="A time begins an item; what stands under it are the words to follow. Paste it from where you have it. An item without a time begins with #."
          onChange={(typed) => {
            setText(typed.target.value);
            setChanged(true);
          }}
        />
        <div className="flex flex-wrap items-center gap-3">
          <Button
            kind="main"
            disabled={!isChanged || wrong !== null || saving.isBusy}
            onClick={() => void save(base.version)}
          >
            Save the order
          </Button>
          <p role="status" className="text-ink-soft">
            {isChanged ? 'Not saved yet.' : hasSaved ? 'Saved; viewers see it as it is now.' : ''}
          </p>
        </div>
        <Fault error={saving.error} />
        {isOther && isChanged && (
          <BothOrders
            theirs={asText(order.items, startsAt)}
            onTake={() => take(order)}
            onKeep={() => void save(order.version)}
          />
        )}
      </fieldset>
      <OrderPreview items={items} startsAt={startsAt} />
    </div>
  );
}

interface BothOrdersProps {
  readonly theirs: string;
  readonly onTake: () => void;
  readonly onKeep: () => void;
}

/** Somebody saved another order while this one was written: neither is lost until one is chosen. */
const BothOrders = ({ theirs, onTake, onKeep }: BothOrdersProps) => (
  <section
    role="alert"
    aria-label="Two versions"
    className="grid gap-3 rounded-md border border-plum bg-plum-wash p-3.5"
  >
    <p>Somebody else has saved this order meanwhile. Yours stands above and is not saved; this is theirs:</p>
    <pre className="max-h-48 overflow-auto font-sans whitespace-pre-wrap">{theirs}</pre>
    <div className="flex flex-wrap gap-3">
      <Button onClick={onTake}>Take theirs</Button>
      <Button onClick={onKeep}>Save mine over it</Button>
    </div>
  </section>
);

const newName = (): string => randomId().replaceAll('-', '').slice(0, 12);

/** What would be refused, in words. */
function wrongWith(items: readonly OrderItem[]): string | null {
  const { items: most, titleLength, wordsLength, wholeLength } = ORDER_LIMITS;
  if (items.length > most) return `An order has ${most} items at most; these are ${items.length}.`;
  const long = items.find(({ title, words }) => title.length > titleLength || words.length > wordsLength);
  if (long)
    return `“${long.title.slice(0, 40)}” is too long: a title may have ${titleLength} letters, its words ${wordsLength}.`;
  const whole = items.reduce((sum, { title, words }) => sum + title.length + words.length, 0);
  return whole > wholeLength
    ? `All words together may have ${wholeLength} letters; these are ${whole}.`
    : null;
}
