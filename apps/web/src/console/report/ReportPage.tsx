import { Link } from 'react-router';
import { namesIn } from '@heliphon/contracts/fault-words';
import type { EventView } from '@heliphon/contracts/events';
import {
  changeSentence,
  costWords,
  faultAccount,
  loudnessSentence,
  repeatedSentence,
  verdictSentence,
} from '@heliphon/contracts/report-words';
import type { SignalReportView } from '@heliphon/contracts/signal';
import { dayAndTime, shortDay, timeOfDay } from '@heliphon/contracts/time-words';
import { useSignalReport } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Failed, Loading } from '../../ui/states.js';
import { NOTE_TEXT } from '../../words/console/notes.js';
import { REPORT_TEXT } from '../../words/console/report.js';
import { megabits } from '../../words/signal.js';
import { EventGate } from '../event/EventGate.js';
import { HadBand } from './HadBand.js';
import { ReportChart } from './ReportChart.js';
import { ReportPart } from './ReportPart.js';
import { ReportPlaces } from './ReportPlaces.js';
import { ReportNotes } from './ReportNotes.js';
import { VIEWER_REPORTS_TEXT } from '../../words/console/viewer-reports.js';
import { ViewerReports } from './ViewerReports.js';

/** How an event's signal was: a letter, to be read, printed and kept. */
export function ReportPage() {
  return <EventGate>{(event) => <Report event={event} />}</EventGate>;
}

function Report({ event }: { event: EventView }) {
  const { data, error, mutate } = useSignalReport(event.id);
  return (
    <article className="mx-auto grid w-full max-w-3xl gap-6 px-5 py-6">
      <Link
        to={`/events/${event.id}/keep`}
        className="justify-self-start text-pine underline underline-offset-4 print:hidden"
      >
        {REPORT_TEXT.backToTheEvent}
      </Link>
      {error ? (
        <Failed error={error} onRetry={() => void mutate()} />
      ) : data ? (
        <Letter event={event} view={data} />
      ) : (
        <Loading what={REPORT_TEXT.signalReport} />
      )}
    </article>
  );
}

function Letter({ event, view }: { event: EventView; view: SignalReportView }) {
  const zone = useZone();
  const { report, names, airAtMs, endAtMs, viewersHad, repeated, before } = view;
  return (
    <>
      <header>
        <p className="text-ink-soft">
          {dayAndTime(airAtMs, zone)} – {timeOfDay(endAtMs, zone)}
        </p>
        <h1 className="text-[19px] font-semibold">{REPORT_TEXT.of(view.title)}</h1>
        <p className="pt-3 font-serif text-[28px] leading-tight text-balance">{verdictSentence(report)}</p>
      </header>
      {viewersHad.length > 0 && (
        <section aria-label={REPORT_TEXT.whatViewersHad}>
          <HadBand airAtMs={airAtMs} endAtMs={endAtMs} viewersHad={viewersHad} faults={report.faults} />
        </section>
      )}
      <ReportPart title={REPORT_TEXT.beforeNextTime}>
        <p>{changeSentence(report, ({ subjectId }) => namesIn(names, subjectId))}</p>
        {repeated.map((one) => (
          <p key={`${one.kind} ${one.subjectId}`}>{repeatedSentence(one, namesIn(names, one.subjectId))}</p>
        ))}
      </ReportPart>
      <ReportPart title={REPORT_TEXT.whatWentWrong}>
        {report.faults.length === 0 && <p>{REPORT_TEXT.nothingWentWrong}</p>}
        <ul className="grid gap-2">
          {report.faults.map((fault) => (
            <li
              key={`${fault.kind} ${fault.subjectId} ${fault.fromMs}`}
              className="grid grid-cols-[62px_1fr] gap-2"
            >
              <span className="figures text-ink-soft">{timeOfDay(fault.fromMs, zone)}</span>
              <span>{faultAccount(fault, namesIn(names, fault.subjectId), endAtMs)}</span>
            </li>
          ))}
        </ul>
        {report.lostViewerMs > 0 && (
          <p className="pt-2">{REPORT_TEXT.cost(costWords({ viewerMs: report.lostViewerMs }))}</p>
        )}
      </ReportPart>
      <ReportPart title={NOTE_TEXT.notes}>
        <ReportNotes eventId={event.id} />
      </ReportPart>
      <ReportPart title={VIEWER_REPORTS_TEXT.viewersTell}>
        <ViewerReports eventId={event.id} />
      </ReportPart>
      <ReportPart title={REPORT_TEXT.theSound}>
        <p>{loudnessSentence(report)}</p>
      </ReportPart>
      <ReportPart title={REPORT_TEXT.whatCameIn}>
        <p>{averagesSentence(report)}</p>
        {report.averages.mostViewers !== null && (
          <p>{REPORT_TEXT.watched(Math.round(report.averages.viewers ?? 0), report.averages.mostViewers)}</p>
        )}
      </ReportPart>
      <ReportPlaces view={view} />
      {before.length > 0 && (
        <ReportPart title={REPORT_TEXT.compared}>
          <ul className="grid gap-1">
            {before.map(({ eventId, airAtMs: beganMs, cleanShare, faults }) => (
              <li key={eventId}>
                <Link to={`/events/${eventId}/report`} className="text-pine underline underline-offset-4">
                  {shortDay(beganMs, zone)}
                </Link>
                {': '}
                {cleanShare === null
                  ? REPORT_TEXT.notMeasured
                  : REPORT_TEXT.clean(`${(Math.floor(cleanShare * 1000) / 10).toFixed(1)} %`, faults)}
              </li>
            ))}
          </ul>
        </ReportPart>
      )}
      <ReportChart event={event} view={view} />
      <Button kind="main" large className="justify-self-start print:hidden" onClick={() => window.print()}>
        {REPORT_TEXT.print}
      </Button>
    </>
  );
}

function averagesSentence({ averages }: SignalReportView['report']): string {
  const { bitrateBps, advisedBps, frameRateFps, keyframeIntervalMs } = averages;
  if (bitrateBps === null || frameRateFps === null) return REPORT_TEXT.nothingCameIn;
  return REPORT_TEXT.averages(
    megabits(bitrateBps),
    advisedBps === null ? null : megabits(advisedBps),
    frameRateFps.toFixed(1),
    keyframeIntervalMs === null ? null : (keyframeIntervalMs / 1000).toFixed(1),
  );
}
