import type { OutletView } from '@heliphon/contracts/accounts';
import { editDestination, useDestinations } from '../../data/destinations.js';
import { useCan } from '../../data/session.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { ACCOUNTS_TEXT } from '../../words/console/accounts.js';

const USUAL_HOURS: readonly (number | null)[] = [null, 336, 168, 72, 48, 24, 3, 1];
const AT_ONCE = 'at-once';

/** How long before its start an event is posted at an outlet. */
export function PostedAhead({ outlet }: { outlet: OutletView }) {
  const { data } = useDestinations();
  const canEdit = useCan('destinations.edit');
  const action = useAction();
  const place = data?.items.find((one) => one.kind === 'outlet' && one.outletId === outlet.id);
  if (place?.kind !== 'outlet') return null;
  const { postAheadHours: hours } = place;
  // By the API it may be any.
  const offered = USUAL_HOURS.includes(hours) ? USUAL_HOURS : [...USUAL_HOURS, hours];
  const choose = (value: string): void => {
    const postAheadHours = value === AT_ONCE ? null : Number(value);
    void action.run(() => editDestination(place, { postAheadHours }));
  };
  return (
    <label className="flex items-center gap-2 text-[13px] text-ink-soft">
      {ACCOUNTS_TEXT.postedAhead}
      <select
        aria-label={ACCOUNTS_TEXT.postedAheadOf(outlet.name)}
        disabled={!canEdit || action.isBusy}
        value={hours ?? AT_ONCE}
        onChange={(chosen) => choose(chosen.target.value)}
        className="min-h-8 rounded-md border border-edge bg-surface px-2 text-ink disabled:border-line disabled:bg-sunk disabled:text-ink-soft"
      >
        {offered.map((each) => (
          <option key={each ?? AT_ONCE} value={each ?? AT_ONCE}>
            {ACCOUNTS_TEXT.ahead(each)}
          </option>
        ))}
      </select>
      <Fault error={action.error} isSmall />
    </label>
  );
}
