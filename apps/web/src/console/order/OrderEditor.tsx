import { useState } from 'react';
import { keepNames, readOrder, writeOrder as asText } from '@heliphon/core/order/order-text';
import { ORDER_LIMITS, type OrderItem } from '@heliphon/core/order/order-sheet';
import type { OrderView } from '@heliphon/contracts/order';
import { writeOrder } from '../../data/order.js';
import { randomId } from '../../data/random-id.js';
import { Button } from '../../ui/Button.js';
import { TextArea } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { OrderPreview } from './OrderPreview.js';
import { ORDER_TEXT } from '../../words/console/order.js';

interface OrderEditorProps {
  readonly path: string;
  readonly order: OrderView;
  /** By the clock on the wall, `10:30`. */
  readonly startsAt: string;
  readonly canEdit: boolean;
}

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
          label={ORDER_TEXT.theOrderAsText}
          rows={22}
          spellCheck={false}
          placeholder={ORDER_TEXT.example}
          value={text}
          error={wrong}
          hint={ORDER_TEXT.startEachItemWithIts}
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
            {ORDER_TEXT.saveTheOrder}
          </Button>
          <p role="status" className="text-ink-soft">
            {isChanged ? ORDER_TEXT.notSavedYet : hasSaved ? ORDER_TEXT.savedViewersSeeItLike : ''}
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
    aria-label={ORDER_TEXT.twoVersions}
    className="grid gap-3 rounded-md border border-plum bg-plum-wash p-3.5"
  >
    <p>{ORDER_TEXT.somebodyElseHasSavedThis}</p>
    <pre className="max-h-48 overflow-auto font-sans whitespace-pre-wrap">{theirs}</pre>
    <div className="flex flex-wrap gap-3">
      <Button onClick={onTake}>{ORDER_TEXT.takeTheirs}</Button>
      <Button onClick={onKeep}>{ORDER_TEXT.keepMine}</Button>
    </div>
  </section>
);

const newName = (): string => randomId().replaceAll('-', '').slice(0, 12);

/** What would be refused, in words. */
function wrongWith(items: readonly OrderItem[]): string | null {
  const { items: most, titleLength, wordsLength, wholeLength } = ORDER_LIMITS;
  if (items.length > most) return ORDER_TEXT.anOrderCanHaveUp(most, items.length);
  const long = items.find(({ title, words }) => title.length > titleLength || words.length > wordsLength);
  if (long) return ORDER_TEXT.isTooLongATitle(long.title.slice(0, 40), titleLength, wordsLength);
  const whole = items.reduce((sum, { title, words }) => sum + title.length + words.length, 0);
  return whole > wholeLength ? ORDER_TEXT.allTheWordsTogetherCan(wholeLength, whole) : null;
}
