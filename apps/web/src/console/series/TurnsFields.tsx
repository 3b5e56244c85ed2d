import { X } from 'lucide-react';
import { DUTIES, type Duty, type DutyTurns } from '@heliphon/core/duties/duties';
import { usePeople } from '../../data/people.js';
import { SelectField } from '../../ui/Field.js';
import { DUTY_WORDS } from '../../words/duties.js';
import { SERIES_TEXT } from '../../words/console/series.js';

interface TurnsFieldsProps {
  readonly turns: readonly DutyTurns[];
  readonly error: string | null;
  readonly onChange: (turns: DutyTurns[]) => void;
}

/** Who takes turns at what, date by date; one person alone does it every time. */
export function TurnsFields({ turns, error, onChange }: TurnsFieldsProps) {
  const { data } = usePeople();
  const people = data?.items ?? [];
  const idsOf = (duty: Duty): readonly string[] => turns.find((one) => one.duty === duty)?.personIds ?? [];
  const set = (duty: Duty, personIds: readonly string[]): void =>
    onChange([
      ...turns.filter((one) => one.duty !== duty),
      ...(personIds.length > 0 ? [{ duty, personIds }] : []),
    ]);
  return (
    <section aria-label={SERIES_TEXT.whoTakesTurns} className="grid gap-2">
      <h2 className="font-sans text-[15px] font-semibold">{SERIES_TEXT.onDutyTakingTurns}</h2>
      <div className="grid gap-3 md:grid-cols-3">
        {DUTIES.map((duty) => {
          const ids = idsOf(duty);
          const { name, does } = DUTY_WORDS[duty];
          return (
            <div key={duty} className="grid content-start gap-1.5">
              <SelectField
                label={name}
                value=""
                error={error}
                hint={ids.length === 0 ? does : null}
                onChange={(id) => id && set(duty, [...ids, id])}
                options={[
                  { value: '', label: ids.length === 0 ? SERIES_TEXT.nobodyYet : SERIES_TEXT.addSomebody },
                  ...people
                    .filter(({ id }) => !ids.includes(id))
                    .map((person) => ({ value: person.id, label: person.name })),
                ]}
              />
              <ol aria-label={SERIES_TEXT.inThisOrder(name)} className="grid gap-1">
                {ids.map((id, at) => {
                  const who = people.find((person) => person.id === id)?.name ?? 'Somebody';
                  return (
                    <li key={id} className="flex min-h-8 items-center gap-2 border-b border-line">
                      <span className="figures text-[13px] text-ink-soft">{at + 1}.</span>
                      <span className="flex-1">{who}</span>
                      <button
                        type="button"
                        aria-label={SERIES_TEXT.takeOut(name, who)}
                        className="grid size-7 place-items-center rounded-md hover:bg-hover"
                        onClick={() =>
                          set(
                            duty,
                            ids.filter((other) => other !== id),
                          )
                        }
                      >
                        <X aria-hidden="true" size={16} strokeWidth={1.75} />
                      </button>
                    </li>
                  );
                })}
              </ol>
            </div>
          );
        })}
      </div>
    </section>
  );
}
