import type { Check } from '@heliphon/core/readiness/readiness';
import { openChecks } from '@heliphon/core/readiness/open-checks';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Loading } from '../../ui/states.js';
import { CHECK_WORDS } from '@heliphon/contracts/check-words';
import { CHECK_MARKS } from './check-remedies.js';
import { CheckRemedy } from './CheckRemedy.js';
import { EVENT_TEXT } from '../../words/console/event.js';

interface ReadyForAirProps {
  readonly checks: readonly Check[];
  readonly isKnown: boolean;
  readonly eventId: string;
}

/** What is still open, worst first, each with its reason and remedy; what has passed is folded into a line. */
export function ReadyForAir({ checks, isKnown, eventId }: ReadyForAirProps) {
  const open = openChecks(checks);
  const passed = checks.filter((check) => check.status === 'passed');
  const later = checks.filter((check) => check.status === 'later');
  return (
    <aside
      aria-label={EVENT_TEXT.readyToGoOnAir}
      className="self-start rounded-md border border-line bg-surface p-3.5"
    >
      <h2 className="text-[19px]">{EVENT_TEXT.readyToGoOnAir}</h2>
      {!isKnown && <Loading what={EVENT_TEXT.whatIsStillToDo} rows={3} />}
      {isKnown && (
        <p className="mb-2 text-[13px] text-ink-soft" role="status">
          {summary(open)}
        </p>
      )}
      <ul>
        {open.map((check) => (
          <OpenCheck key={check.code} check={check} eventId={eventId} />
        ))}
        {later.length > 0 && (
          <FoldedChecks
            mark="planned"
            title={later.length === 1 ? EVENT_TEXT.oneMoreChecked : EVENT_TEXT.moreChecked(later.length)}
            words={later.map((c) => CHECK_WORDS[c.code].later)}
          />
        )}
        {passed.length > 0 && (
          <FoldedChecks
            mark="passed"
            title={EVENT_TEXT.ready(passed.length)}
            words={passed.map((c) => CHECK_WORDS[c.code].passed)}
          />
        )}
      </ul>
    </aside>
  );
}

function summary(open: readonly Check[]): string {
  const stops = open.filter((check) => check.status === 'stops').length;
  const rest = open.length - stops;
  if (open.length === 0) return EVENT_TEXT.everythingIsReady;
  const todo = stops === 0 ? null : stops === 1 ? EVENT_TEXT.oneToDo : EVENT_TEXT.thingsToDo(stops);
  const know =
    rest === 0 ? null : rest === 1 ? EVENT_TEXT.oneWorthKnowing : EVENT_TEXT.thingsWorthKnowing(rest);
  const words = [todo, know].filter(Boolean).join(', ');
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;
}

function OpenCheck({ check, eventId }: { check: Check; eventId: string }) {
  const words = CHECK_WORDS[check.code];
  const severity = check.status as 'stops' | 'warns' | 'advises';
  return (
    <li className="flex gap-2.5 border-t border-line py-2.5">
      <span className="pt-0.5">
        <Mark name={CHECK_MARKS[severity]} />
      </span>
      <div className="grid flex-1 justify-items-start gap-1.5">
        <p className="leading-snug font-semibold">
          <span className="sr-only">{severity}: </span>
          {words.open(check.detail)}
        </p>
        <p className="text-[13px] text-ink-soft">{words.reason(check.detail)}</p>
        <CheckRemedy check={check} eventId={eventId} />
      </div>
    </li>
  );
}

function FoldedChecks({ mark, title, words }: { mark: MarkName; title: string; words: readonly string[] }) {
  const line = words.join(', ');
  return (
    <li className="flex gap-2.5 border-t border-line py-2.5">
      <span className="pt-0.5">
        <Mark name={mark} />
      </span>
      <div>
        <p className="font-semibold">{title}</p>
        <p className="text-[13px] text-ink-soft">{`${line.charAt(0).toUpperCase()}${line.slice(1)}.`}</p>
      </div>
    </li>
  );
}
