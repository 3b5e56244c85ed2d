import { endCalendar, renewCalendar } from '../../data/commands.js';
import { ownCalendarPath, useOwnCalendar } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';

/** One's private calendar address: of all the house plans, or of one channel. */
export function CalendarAddress({ channelId }: { channelId?: string }) {
  const path = ownCalendarPath(channelId);
  const { data, error, mutate } = useOwnCalendar(channelId);
  const action = useAction();
  const address = data?.address ?? null;
  const renew = (): void => void action.run(() => renewCalendar(path));
  return (
    <>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="your calendar" rows={1} />}
      {address && (
        <div className="grid gap-3">
          <CopyField secret label="Private address" value={address} what="the calendar’s address" />
          <div className="flex flex-wrap gap-3">
            <Button disabled={action.isBusy} onClick={renew}>
              A new address, ending this one
            </Button>
            <Button disabled={action.isBusy} onClick={() => void action.run(() => endCalendar(path))}>
              End it
            </Button>
          </div>
        </div>
      )}
      {data && !address && (
        <Button disabled={action.isBusy} onClick={renew}>
          Make my address
        </Button>
      )}
      <Fault error={action.error} />
    </>
  );
}
