import { DUTIES, type Duty, onDuty, type OnDuty } from '@heliphon/core/duties/duties';
import type { EventDuty, EventView } from '@heliphon/contracts/events';
import { usePeople } from '../../data/people.js';
import { SelectField } from '../../ui/Field.js';
import { answerWords, DUTY_WORDS } from '../../words/duties.js';
import { EVENT_TEXT } from '../../words/console/event.js';

interface DutyChoiceProps {
  readonly event: EventView;
  /** What was chosen and is not saved yet. */
  readonly chosen: readonly OnDuty[] | undefined;
  readonly error: string | null;
  readonly onChange: (duties: OnDuty[]) => void;
}

/** Who is on duty that day. Anyone who is chosen gets a letter and can say no. */
export function DutyChoice({ event, chosen, error, onChange }: DutyChoiceProps) {
  const { data } = usePeople();
  const people = data?.items ?? [];
  const nameOf = (id: string): string => people.find((person) => person.id === id)?.name ?? 'Somebody';
  const now = chosen ?? onDuty(event.duties);
  const choose = (duty: Duty, personId: string): void =>
    onChange([...now.filter((one) => one.duty !== duty), ...(personId ? [{ duty, personId }] : [])]);
  const said = (duty: Duty, personId: string | undefined): string => {
    const asked = event.duties.filter((one) => one.duty === duty);
    const own = asked.find((one) => one.personId === personId && one.answer !== 'no');
    const refused = asked.filter(({ answer }) => answer === 'no').map((one) => refusal(one, nameOf));
    return [own ? answerWords(own.answer) : DUTY_WORDS[duty].does, ...refused].join(' · ');
  };
  return (
    <div className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">{EVENT_TEXT.onDuty}</h2>
      <div className="grid gap-3 md:grid-cols-3">
        {DUTIES.map((duty) => {
          const personId = now.find((one) => one.duty === duty)?.personId;
          return (
            <SelectField
              key={duty}
              label={DUTY_WORDS[duty].name}
              value={personId ?? ''}
              error={error}
              hint={said(duty, personId)}
              onChange={(id) => choose(duty, id)}
              options={[
                { value: '', label: 'Nobody' },
                ...people.map(({ id, name }) => ({ value: id, label: name })),
              ]}
            />
          );
        })}
      </div>
      <p className="text-[13px] text-ink-soft">{EVENT_TEXT.everyoneOnTheRotaGets}</p>
    </div>
  );
}

const refusal = ({ personId, note }: EventDuty, nameOf: (id: string) => string): string =>
  note ? EVENT_TEXT.cannotComeBecause(nameOf(personId), note) : EVENT_TEXT.cannotCome(nameOf(personId));
