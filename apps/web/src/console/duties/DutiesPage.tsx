import { answerDuty, renewDutiesAddress } from '../../data/commands.js';
import { useOwnDuties } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DutyList } from './DutyList.js';

const OWN = '/api/own/duties';

/** One's own duties, for whoever is signed in. */
export function DutiesPage() {
  const { data, error, mutate } = useOwnDuties(OWN);
  const action = useAction();
  return (
    <div className="max-w-3xl px-5 pt-4 pb-8">
      <h1 className="mb-3 text-[27px]">My duties</h1>
      {Boolean(error) && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="your duties" rows={3} />}
      {data && (
        <>
          <DutyList duties={data} onAnswer={(wish) => answerDuty(OWN, wish)} />
          <section aria-label="In my calendar" className="mt-6 grid gap-3 border-t border-line pt-4">
            <h2 className="text-[19px]">In my calendar</h2>
            <p className="text-ink-soft">
              Add this address to the calendar of your telephone or computer: it follows your dates by itself.
              Letters lead you to the same dates without signing in.
            </p>
            <CopyField secret label="Private address" value={data.calendar} what="the calendar’s address" />
            <div>
              <Button disabled={action.isBusy} onClick={() => void action.run(renewDutiesAddress)}>
                A new address, ending this one and the links of older letters
              </Button>
            </div>
            <Fault error={action.error} />
          </section>
        </>
      )}
    </div>
  );
}
