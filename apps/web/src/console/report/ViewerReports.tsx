import type { ViewerReportView } from '@heliphon/contracts/viewer-reports';
import { clock, timeOfDay } from '@heliphon/contracts/time-words';
import { useZone } from '../../data/session.js';
import { useViewerReports } from '../../data/viewer-reports.js';
import { Failed, Loading } from '../../ui/states.js';
import { COMPLAINT_WORDS, FOUND_WORDS, VIEWER_REPORTS_TEXT } from '../../words/console/viewer-reports.js';
import { EventGate } from '../event/EventGate.js';

/** `/events/ID/viewers`: what viewers tell while it is on air. */
export function ViewerReportsPage() {
  return (
    <EventGate>
      {(event) => (
        <article className="mx-auto grid w-full max-w-3xl gap-4 px-5 py-6">
          <h1 className="text-[27px]">{VIEWER_REPORTS_TEXT.viewersTell}</h1>
          <ViewerReports eventId={event.id} isLive={event.state === 'air'} />
        </article>
      )}
    </EventGate>
  );
}

/** Every viewer who told of something, with what was found and what their player did. */
export function ViewerReports({ eventId, isLive = false }: { eventId: string; isLive?: boolean }) {
  const { data, error, mutate } = useViewerReports(eventId, isLive);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what={VIEWER_REPORTS_TEXT.viewersTell} />;
  if (data.items.length === 0) return <p>{VIEWER_REPORTS_TEXT.none}</p>;
  return (
    <ul className="grid gap-2">
      {data.items.map((report) => (
        <Told key={report.id} report={report} />
      ))}
    </ul>
  );
}

function Told({ report }: { report: ViewerReportView }) {
  const zone = useZone();
  const { atMs, complaint, finding, device, moments } = report;
  return (
    <li className="grid grid-cols-[62px_1fr] gap-2">
      <span className="figures text-ink-soft">{timeOfDay(atMs, zone)}</span>
      <div>
        <p>
          {COMPLAINT_WORDS[complaint]}. {VIEWER_REPORTS_TEXT.foundAt(FOUND_WORDS[finding], device)}
        </p>
        {moments.length > 0 && (
          <details className="print:hidden">
            <summary className="cursor-pointer text-[13px] text-ink-soft">
              {VIEWER_REPORTS_TEXT.theirPlayer}
            </summary>
            <ol className="text-[13px] text-ink-soft">
              {moments.map((moment) => (
                <li key={moment.atMs} className="figures">
                  {timeOfDay(moment.atMs, zone)} {moment.status}
                  {moment.lateSeconds > 0 && ` −${clock(moment.lateSeconds * 1000)}`}
                </li>
              ))}
            </ol>
          </details>
        )}
      </div>
    </li>
  );
}
