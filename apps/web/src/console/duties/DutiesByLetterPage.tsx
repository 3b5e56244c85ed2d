import { useParams } from 'react-router';
import { answerDuty } from '../../data/commands.js';
import { useOwnDuties } from '../../data/house.js';
import { CopyField } from '../../ui/CopyField.js';
import { Wordmark } from '../../ui/Mark.js';
import { Loading } from '../../ui/states.js';
import { problemSentence } from '../../words/problems.js';
import { DutyList } from './DutyList.js';

/** Where the link of a letter leads: one's dates, to be answered without signing in. */
export function DutiesByLetterPage() {
  const { secret = '' } = useParams();
  const path = `/api/duties/${encodeURIComponent(secret)}`;
  const { data, error } = useOwnDuties(path);
  return (
    <main className="mx-auto grid min-h-screen max-w-2xl grid-cols-[minmax(0,1fr)] content-start gap-4 bg-ground p-5 text-ink">
      <Wordmark />
      {!data && !error && <Loading what="your dates" rows={3} />}
      {Boolean(error) && !data && (
        <>
          <h1 className="text-[27px]">This link opens nothing</h1>
          <p role="alert">{problemSentence(error)} Newer letters have a newer link.</p>
        </>
      )}
      {data && (
        <>
          <div>
            <h1 className="text-[27px]">Can you come, {data.personName}?</h1>
            <p className="text-ink-soft">Your dates at {data.houseName}</p>
          </div>
          <DutyList duties={data} onAnswer={(wish) => answerDuty(path, wish)} />
          <section
            aria-label="In my calendar"
            className="grid grid-cols-[minmax(0,1fr)] gap-2 border-t border-line pt-4"
          >
            <h2 className="text-[19px]">In my calendar</h2>
            <p className="text-ink-soft">
              With this address the calendar of your telephone or computer follows your dates by itself.
            </p>
            <CopyField secret label="Private address" value={data.calendar} what="the calendar’s address" />
          </section>
        </>
      )}
    </main>
  );
}
