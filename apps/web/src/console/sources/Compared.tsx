import { adviceSentence } from '@heliphon/contracts/advice-words';
import type { SourceNow, SourceView } from '@heliphon/contracts/sources';
import { type AdviceLine, compareWithAdvice } from '@heliphon/core/ladder/compare-with-advice';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { ADVICE_TOPIC_WORDS } from '../../words/advice.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

const MARKS: Readonly<Record<AdviceLine['verdict'], MarkName>> = {
  'as-advised': 'passed',
  differs: 'advice',
  change: 'caution',
};

/** What is coming in against what was advised, line by line; nothing while there is nothing to compare. */
export function Compared({ source, now }: { source: SourceView; now: SourceNow | null }) {
  const { advice } = source;
  if (!advice?.size || !now?.report) return null;
  const lines = compareWithAdvice(now.report, advice.size, advice.uploadBps);
  return (
    <section
      aria-label={SOURCES_TEXT.comparedWithTheRecommendedSettings}
      className="border-t border-line pt-3"
    >
      <h3 className="mb-1 font-sans text-[15px] font-semibold">
        {SOURCES_TEXT.comparedWithTheRecommendedSettings}
      </h3>
      <ul className="grid gap-1.5 text-sm">
        {lines.map(({ topic, verdict, code, detail }) => {
          const { what, set } = adviceSentence(code, detail);
          return (
            <li key={topic} className="flex items-start gap-2">
              <span className="mt-0.5">
                <Mark name={MARKS[verdict]} />
              </span>
              <span className="w-32 shrink-0 text-ink-soft">{ADVICE_TOPIC_WORDS[topic]}</span>
              <span>
                {what}. {set && <b>{set}</b>}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
