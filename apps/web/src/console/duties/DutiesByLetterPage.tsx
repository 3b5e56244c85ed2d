import { useParams } from 'react-router';
import { answerDuty, useOwnDuties } from '../../data/duties.js';
import { Wordmark } from '../../ui/Mark.js';
import { Loading } from '../../ui/states.js';
import { problemSentence } from '../../words/problems.js';
import { DutiesCalendar } from './DutiesCalendar.js';
import { DutyList } from './DutyList.js';
import { DUTIES_TEXT } from '../../words/console/duties.js';

/** Where the link of a letter leads: one's dates, to be answered without signing in. */
export function DutiesByLetterPage() {
  const { secret = '' } = useParams();
  const path = `/api/duties/${encodeURIComponent(secret)}`;
  const { data, error } = useOwnDuties(path);
  return (
    <main className="mx-auto grid min-h-screen max-w-2xl grid-cols-[minmax(0,1fr)] content-start gap-4 bg-ground p-5 text-ink">
      <Wordmark />
      {!data && !error && <Loading what={DUTIES_TEXT.yourDates} rows={3} />}
      {Boolean(error) && !data && (
        <>
          <h1 className="text-[27px]">{DUTIES_TEXT.thisLinkDoesNotWork}</h1>
          <p role="alert">
            {problemSentence(error)} {DUTIES_TEXT.checkForANewerEmail}
          </p>
        </>
      )}
      {data && (
        <>
          <div>
            <h1 className="text-[27px]">{DUTIES_TEXT.canYouCome(data.personName)}</h1>
            <p className="text-ink-soft">{DUTIES_TEXT.yourDatesAt(data.houseName)}</p>
          </div>
          <DutyList duties={data} onAnswer={(wish) => answerDuty(path, wish)} />
          <DutiesCalendar address={data.calendar} words={DUTIES_TEXT.addThisAddressToThe} />
        </>
      )}
    </main>
  );
}
