import { Link } from 'react-router';
import type { Level } from '@heliphon/core/inherited';
import { useWatching, watchingPath } from '../../data/watching.js';
import { buttonClass } from '../../ui/Button.js';
import { ADMISSION_WORDS, WATCHING_TEXT } from '../../words/console/watching.js';

interface WatchingLineProps {
  readonly level: Exclude<Level, 'house'>;
  readonly id: string;
}

/** Who may watch a series or an event, in a line, and the way to where that is changed. */
export function WatchingLine({ level, id }: WatchingLineProps) {
  const { data } = useWatching(watchingPath(level, id));
  const rules = data && { ...data.above.value, ...data.own };
  return (
    <section aria-label={WATCHING_TEXT.whoMayWatch} className="flex flex-wrap items-center gap-x-5 gap-y-2">
      <div>
        <h2 className="font-sans text-[15px] font-semibold">{WATCHING_TEXT.whoMayWatch}</h2>
        {rules && (
          <p className="text-ink-soft">
            {rules.live === rules.replay
              ? ADMISSION_WORDS[rules.live].name
              : WATCHING_TEXT.liveAndReplay(
                  ADMISSION_WORDS[rules.live].name,
                  ADMISSION_WORDS[rules.replay].name,
                )}
          </p>
        )}
      </div>
      <Link to={`/watching/${level}/${id}`} className={buttonClass()}>
        {WATCHING_TEXT.change}
      </Link>
    </section>
  );
}
