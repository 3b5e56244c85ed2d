import { onDuty } from '@heliphon/core/duties/duties';
import type { EventView } from '@heliphon/contracts/events';
import { usePeople } from '../../data/house.js';
import { answerWords, DUTY_WORDS } from '../../words/duties.js';

/** Who is on duty on a day; a question mark stands by whoever has not answered. */
export function DayPeople({ events }: { events: readonly EventView[] }) {
  const { data } = usePeople();
  const asked = events.filter(({ state }) => state !== 'cancelled').flatMap(({ duties }) => duties);
  const ids = [...new Set(onDuty(asked).map(({ personId }) => personId))];
  if (ids.length === 0 || !data) return null;
  return (
    <ul aria-label="On duty" className="pr-1.5 pb-1.5 pl-2 text-[13px] leading-snug text-ink-soft">
      {ids.map((id) => {
        const name = data.items.find((person) => person.id === id)?.name ?? 'Somebody';
        const own = asked.filter(({ personId, answer }) => personId === id && answer !== 'no');
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
