import { useState } from 'react';
import type { Answer } from '@heliphon/core/duties/duties';
import { type AnswerDuty, DUTY_NOTE_LENGTH, type OwnDuties, type OwnDuty } from '@heliphon/contracts/duties';
import { longDay, timeOfDay } from '@heliphon/contracts/time-words';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Empty, Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DUTY_WORDS } from '../../words/duties.js';
import { Sentence } from '../../ui/Sentence.js';
import { DUTIES_TEXT } from '../../words/console/duties.js';

interface DutyListProps {
  readonly duties: OwnDuties;
  readonly onAnswer: (wish: AnswerDuty) => Promise<void>;
}

/** Somebody's dates, each to be said yes or no to. */
export function DutyList({ duties, onAnswer }: DutyListProps) {
  if (duties.items.length === 0) return <Empty>{DUTIES_TEXT.youAreNotOnThe}</Empty>;
  return (
    <>
      <AllAtOnce items={duties.items.filter(isOpen)} onAnswer={onAnswer} />
      <ul>
        {duties.items.map((item) => (
          <DutyRow key={`${item.eventId} ${item.duty}`} item={item} onAnswer={onAnswer} />
        ))}
      </ul>
    </>
  );
}

const isOpen = ({ answer, state }: OwnDuty): boolean => answer === null && state !== 'cancelled';

/** Most people can come to most dates: one press for all that are open. */
function AllAtOnce({ items, onAnswer }: { items: readonly OwnDuty[] } & Pick<DutyListProps, 'onAnswer'>) {
  const action = useAction();
  if (items.length < 2) return null;
  const comeToAll = async (): Promise<void> => {
    for (const { eventId, duty } of items) await onAnswer({ eventId, duty, answer: 'yes', note: '' });
  };
  return (
    <div className="grid justify-items-start gap-2 pb-3">
      <Button large disabled={action.isBusy} onClick={() => void action.run(comeToAll)}>
        {DUTIES_TEXT.iCanDoAll(items.length)}
      </Button>
      <Fault error={action.error} />
    </div>
  );
}

function DutyRow({ item, onAnswer }: { item: OwnDuty; onAnswer: DutyListProps['onAnswer'] }) {
  const [note, setNote] = useState('');
  const [isRefusing, setRefusing] = useState(false);
  const action = useAction();
  const say = (answer: Answer): Promise<void> =>
    action.run(async () => {
      const { eventId, duty } = item;
      await onAnswer({ eventId, duty, answer, note: answer === 'no' ? note : '' });
      setRefusing(false);
      setNote('');
    });
  const isOff = item.state === 'cancelled';
  const when = `${longDay(item.startsAtMs, item.zone)}, ${timeOfDay(item.startsAtMs, item.zone)}`;
  const what = `${item.title}, ${when}`;
  return (
    <li aria-label={what} className="grid gap-2 border-t border-line py-3">
      <p className="text-[17px]">
        <Sentence
          words={DUTIES_TEXT.whenTo}
          when={<b>{when}</b>}
          stops={timeOfDay(item.stopsAtMs, item.zone)}
        />
        <br />
        {DUTIES_TEXT.titleAsDuty(item.title, DUTY_WORDS[item.duty].name.toLowerCase())}
      </p>
      <p role="status" className="flex items-center gap-2">
        {isOff ? (
          <>
            <Mark name="cancelled" /> {DUTIES_TEXT.cancelledNoNeed}
          </>
        ) : (
          <Said item={item} />
        )}
      </p>
      {!isOff && isRefusing && (
        <TextField
          label={DUTIES_TEXT.whatTheOthersShouldKnow}
          hint={DUTIES_TEXT.optionalItIsIncludedIn}
          value={note}
          maxLength={DUTY_NOTE_LENGTH}
          onChange={(typed) => setNote(typed.target.value)}
        />
      )}
      {!isOff && (
        <div className="flex flex-wrap gap-3">
          {item.answer !== 'yes' && !item.standIn && !isRefusing && (
            <Button kind="main" large disabled={action.isBusy} onClick={() => void say('yes')}>
              {DUTIES_TEXT.iCanCome}
              <span className="sr-only">: {what}</span>
            </Button>
          )}
          {item.answer !== 'no' && !isRefusing && (
            <Button large disabled={action.isBusy} onClick={() => setRefusing(true)}>
              {DUTIES_TEXT.iCannotCome}
              <span className="sr-only">: {what}</span>
            </Button>
          )}
          {isRefusing && (
            <>
              <Button kind="main" large disabled={action.isBusy} onClick={() => void say('no')}>
                {DUTIES_TEXT.send}
              </Button>
              <Button large onClick={() => setRefusing(false)}>
                {DUTIES_TEXT.back}
              </Button>
            </>
          )}
        </div>
      )}
      <Fault error={action.error} />
    </li>
  );
}

function Said({ item: { answer, standIn } }: { item: OwnDuty }) {
  if (answer === 'yes')
    return (
      <>
        <Mark name="passed" /> {DUTIES_TEXT.youSaidYouCan}
      </>
    );
  if (answer === 'no')
    return (
      <>
        <Mark name="caution" />{' '}
        {standIn ? DUTIES_TEXT.cannotComeCovered(standIn) : DUTIES_TEXT.cannotComeUncovered}
      </>
    );
  return (
    <>
      <Mark name="planned" /> {DUTIES_TEXT.youHaveNotAnswered}
    </>
  );
}
