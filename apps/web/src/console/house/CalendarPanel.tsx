import { endCalendar, renewCalendar } from '../../data/commands.js';
import { useOwnCalendar } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';

/** The house's events in one's own calendar program, by a private address. */
export function CalendarPanel() {
  const { data, error, mutate } = useOwnCalendar();
  const action = useAction();
  const address = data?.address ?? null;
  return (
    <section aria-label="My calendar">
      <h2 className="mb-1 text-[19px]">My calendar</h2>
      <p className="mb-3 text-ink-soft">
        Your telephone’s or computer’s calendar can follow what this house plans. Add a calendar “by address”
        there; it asks again by itself. Whoever has the address sees the plan, so keep it to yourself.
      </p>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="your calendar" rows={1} />}
      {address && (
        <div className="grid gap-3">
          <CopyField secret label="Private address" value={address} what="the calendar’s address" />
          <div className="flex flex-wrap gap-3">
            <Button disabled={action.isBusy} onClick={() => void action.run(renewCalendar)}>
              A new address, ending this one
            </Button>
            <Button disabled={action.isBusy} onClick={() => void action.run(endCalendar)}>
              End it
            </Button>
          </div>
        </div>
      )}
      {data && !address && (
        <Button disabled={action.isBusy} onClick={() => void action.run(renewCalendar)}>
          Make my address
        </Button>
      )}
      <Fault error={action.error} />
    </section>
  );
}
