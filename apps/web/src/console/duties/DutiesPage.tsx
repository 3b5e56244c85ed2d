import { answerDuty, renewDutiesAddress, useOwnDuties } from '../../data/duties.js';
import { Button } from '../../ui/Button.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DutiesCalendar } from './DutiesCalendar.js';
import { DutyList } from './DutyList.js';
import { DUTIES_TEXT } from '../../words/console/duties.js';

const OWN = '/api/own/duties';

/** One's own duties, for anyone who is signed in. */
export function DutiesPage() {
  const { data, error, mutate } = useOwnDuties(OWN);
  const action = useAction();
  return (
    <div className="max-w-3xl px-5 pt-4 pb-8">
      <h1 className="mb-3 text-[27px]">{DUTIES_TEXT.myDuties}</h1>
      {Boolean(error) && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={DUTIES_TEXT.yourDuties} rows={3} />}
      {data && (
        <>
          <DutyList duties={data} onAnswer={(wish) => answerDuty(OWN, wish)} />
          <DutiesCalendar address={data.calendar} words={DUTIES_TEXT.addThisAddressToThe2}>
            <div>
              <Button disabled={action.isBusy} onClick={() => void action.run(renewDutiesAddress)}>
                {DUTIES_TEXT.makeANewAddressThis}
              </Button>
            </div>
            <Fault error={action.error} />
          </DutiesCalendar>
        </>
      )}
    </div>
  );
}
