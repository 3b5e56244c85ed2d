import type { Check, CheckCode, Stage } from '@heliphon/core/readiness/readiness';
import { openChecks } from '@heliphon/core/readiness/readiness';
import { Button } from '../../ui/Button.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { Loading } from '../../ui/states.js';
import { CHECK_WORDS } from '@heliphon/contracts/check-words';

const MARKS: Readonly<Record<'stops' | 'warns' | 'advises', MarkName>> = {
  stops: 'trouble',
  warns: 'caution',
  advises: 'advice',
};

/** The one step that puts each check right. */
const REMEDIES: Readonly<Record<CheckCode, { words: string; stage: Exclude<Stage, 'air'> } | null>> = {
  'source-chosen': { words: 'Choose a source', stage: 'plan' },
  'source-here': { words: 'See how to connect', stage: 'connect' },
  codecs: { words: 'See how to connect', stage: 'connect' },
  picture: { words: 'Look and listen', stage: 'rehearse' },
  loudness: { words: 'Look and listen', stage: 'rehearse' },
  sound: { words: 'Look and listen', stage: 'rehearse' },
  keyframes: { words: 'See what arrives', stage: 'connect' },
  advice: { words: 'See what arrives', stage: 'connect' },
  people: { words: 'See who is on duty', stage: 'plan' },
  poster: { words: 'Choose a poster', stage: 'plan' },
  film: { words: 'Look at the film', stage: 'plan' },
  overrun: { words: 'Change its time', stage: 'plan' },
  places: { words: 'Look at the places', stage: 'plan' },
  'source-free': { words: 'Choose another source', stage: 'plan' },
  disk: null,
};

interface ReadyForAirProps {
  readonly checks: readonly Check[];
  readonly isKnown: boolean;
  readonly onGo: (stage: Exclude<Stage, 'air'>) => void;
}

/** What is still open, worst first, each with its reason and remedy; what has passed is folded into a line. */
export function ReadyForAir({ checks, isKnown, onGo }: ReadyForAirProps) {
  const open = openChecks(checks);
  const passed = checks.filter((check) => check.status === 'passed');
  const later = checks.filter((check) => check.status === 'later');
  return (
    <aside aria-label="Ready for air?" className="self-start rounded-md border border-line bg-surface p-3.5">
      <h2 className="text-[19px]">Ready for air?</h2>
      {!isKnown && <Loading what="what is still to do" rows={3} />}
      {isKnown && (
        <p className="mb-2 text-[13px] text-ink-soft" role="status">
          {summary(open)}
        </p>
      )}
      <ul>
        {open.map((check) => (
          <OpenCheck key={check.code} check={check} onGo={onGo} />
        ))}
        {later.length > 0 && (
          <FoldedChecks
            mark="planned"
            title={`${later.length} can be told later`}
            words={later.map((c) => CHECK_WORDS[c.code].later)}
          />
        )}
        {passed.length > 0 && (
          <FoldedChecks
            mark="passed"
            title={`${passed.length} ready`}
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
  if (open.length === 0) return 'Nothing stands in the way.';
  const todo = stops > 0 ? `${stops === 1 ? 'One thing' : `${stops} things`} to do` : null;
  const know = rest > 0 ? `${rest === 1 ? 'one' : rest} to know about` : null;
  const words = [todo, know].filter(Boolean).join(', ');
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;
}

function OpenCheck({ check, onGo }: { check: Check; onGo: ReadyForAirProps['onGo'] }) {
  const words = CHECK_WORDS[check.code];
  const remedy = REMEDIES[check.code];
  const severity = check.status as 'stops' | 'warns' | 'advises';
  return (
    <li className="flex gap-2.5 border-t border-line py-2.5">
      <span className="pt-0.5">
        <Mark name={MARKS[severity]} />
      </span>
      <div className="grid flex-1 justify-items-start gap-1.5">
        <p className="leading-snug font-semibold">
          <span className="sr-only">{severity}: </span>
          {words.open(check.detail)}
        </p>
        <p className="text-[13px] text-ink-soft">{words.reason(check.detail)}</p>
        {remedy && <Button onClick={() => onGo(remedy.stage)}>{remedy.words}</Button>}
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
