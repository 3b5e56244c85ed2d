import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { useServerNow } from '../../data/server-clock.js';
import { useZone } from '../../data/session.js';
import { useViewerReports } from '../../data/viewer-reports.js';
import { Mark } from '../../ui/Mark.js';
import { COMPLAINT_WORDS, VIEWER_REPORTS_TEXT } from '../../words/console/viewer-reports.js';

/** What was told earlier has been put right, or will be told again. */
const LATELY_MS = 15 * 60_000;

/** That viewers have neither picture nor sound, while it is on air: in a line, with the way to what they tell. */
export function ViewersTell({ event }: { event: EventView }) {
  const { data } = useViewerReports(event.id, event.state === 'air');
  const zone = useZone();
  const nowMs = useServerNow();
  const lately = data?.items.filter(({ atMs }) => nowMs - atMs < LATELY_MS) ?? [];
  const [latest] = lately;
  if (!latest || event.state !== 'air') return null;
  const what = [...new Set(lately.map(({ complaint }) => COMPLAINT_WORDS[complaint]))].join(', ');
  return (
    <p role="status" className="flex flex-wrap items-center gap-x-3 px-5 py-1">
      <Mark name="caution" />
      <span>
        {VIEWER_REPORTS_TEXT.lately(lately.length, what)}{' '}
        {VIEWER_REPORTS_TEXT.latest(timeOfDay(latest.atMs, zone))}
      </span>
      <Link to={`/events/${event.id}/viewers`} className="text-pine underline underline-offset-4">
        {VIEWER_REPORTS_TEXT.readThem}
      </Link>
    </p>
  );
}
