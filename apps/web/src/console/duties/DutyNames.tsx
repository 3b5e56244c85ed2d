import { onDuty } from '@heliphon/core/duties/duties';
import type { EventDuty } from '@heliphon/contracts/events';
import { usePeople } from '../../data/people.js';
import { answerWords, DUTY_WORDS } from '../../words/duties.js';
import { DUTIES_TEXT } from '../../words/console/duties.js';

interface DutyNamesProps {
  readonly duties: readonly EventDuty[];
  readonly className: string;
}

/** First names of the people on duty; a question mark stands by those who have not answered. */
export function DutyNames({ duties, className }: DutyNamesProps) {
  const { data } = usePeople();
  const ids = [...new Set(onDuty(duties).map(({ personId }) => personId))];
  if (ids.length === 0 || !data) return null;
  return (
    <ul aria-label={DUTIES_TEXT.onDuty} className={`text-[13px] leading-snug text-ink-soft ${className}`}>
      {ids.map((id) => {
        const name = data.items.find((person) => person.id === id)?.name ?? 'Somebody';
        const own = duties.filter(({ personId, answer }) => personId === id && answer !== 'no');
        const isSure = own.every(({ answer }) => answer === 'yes');
        const words = own.map(
          ({ duty, answer }) => `${DUTY_WORDS[duty].name.toLowerCase()}, ${answerWords(answer)}`,
        );
        return (
          <li key={id} title={`${name}: ${words.join('; ')}`}>
            {name.split(' ')[0]}
            {!isSure && <span aria-hidden="true"> ?</span>}
            <span className="sr-only">: {words.join('; ')}</span>
          </li>
        );
      })}
    </ul>
  );
}

/** Who is on duty on a day. */
export const dutiesOfDay = (
  events: readonly { readonly state: string; readonly duties: readonly EventDuty[] }[],
): EventDuty[] => events.filter(({ state }) => state !== 'cancelled').flatMap(({ duties }) => duties);
