import { endCalendar, renewCalendar, ownCalendarPath, useOwnCalendar } from '../../data/calendars.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

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
      {!data && !error && <Loading what={HOUSE_TEXT.yourCalendar} rows={1} />}
      {address && (
        <div className="grid gap-3">
          <CopyField
            secret
            label={HOUSE_TEXT.privateAddress}
            value={address}
            what={HOUSE_TEXT.theCalendarsAddress}
          />
          <div className="flex flex-wrap gap-3">
            <Button disabled={action.isBusy} onClick={renew}>
              {HOUSE_TEXT.makeANewAddressThis}
            </Button>
            <Button disabled={action.isBusy} onClick={() => void action.run(() => endCalendar(path))}>
              {HOUSE_TEXT.revoke}
            </Button>
          </div>
        </div>
      )}
      {data && !address && (
        <Button disabled={action.isBusy} onClick={renew}>
          {HOUSE_TEXT.makeMyAddress}
        </Button>
      )}
      <Fault error={action.error} />
    </>
  );
}
