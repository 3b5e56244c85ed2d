import { Link } from 'react-router';
import type { SourceView } from '@heliphon/contracts/sources';
import { dayAndTime, duration } from '@heliphon/contracts/time-words';
import type { SourceReport } from '@heliphon/core/signal/source-report';
import { useCan, useZone } from '../../data/session.js';
import { useLive, useSourceNow } from '../../data/live.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { protocolWords, reportWords } from '../../words/signal.js';
import { shownWords } from '../../words/sources.js';
import { AdvicePanel } from './AdvicePanel.js';
import { Compared } from './Compared.js';
import { GuestLinks } from './GuestLinks.js';
import { KeySheet } from './KeySheet.js';
import { ReportTable } from './ReportTable.js';
import { SourceHistory } from './SourceHistory.js';
import { SourcePicture } from './SourcePicture.js';
import { SourceSettings } from './SourceSettings.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** One source at a glance; opened, all there is to know of it and to set. */
export function SourceRow({
  source,
  isOpen,
  onToggle,
}: {
  source: SourceView;
  isOpen: boolean;
  onToggle: () => void;
}) {
  const now = useSourceNow(source.id);
  const canEdit = useCan('sources.edit');
  const canSeeKeys = useCan('keys.read');
  const canConnect = useCan('sources.connect');
  const isDevice = source.kind === 'device';
  return (
    <li className="border-t border-line py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <SourcePicture now={now} name={source.name} size="small" />
        <div className="min-w-48 flex-1">
          <h2 className="text-[19px]">{source.name}</h2>
          {source.kind !== 'device' && <p>{shownWords(source)}</p>}
          <p className="flex items-center gap-2">
            <Mark name={now?.report ? 'out' : 'planned'} />
            {now?.report ? reportWords(now.report) : <LastSeen source={source} />}
          </p>
          {now?.report && <Since report={now.report} nodeId={now.nodeId} />}
          <NextEvents events={source.events} />
        </div>
        {isDevice && canConnect && (
          <Link className={buttonClass()} to={`/sources/${source.id}/camera`}>
            {SOURCES_TEXT.sendFromThisDevice}
          </Link>
        )}
        <Button aria-expanded={isOpen} onClick={onToggle}>
          {isOpen ? 'Close' : isDevice && canSeeKeys ? SOURCES_TEXT.addressAndKey : 'Details'}
        </Button>
      </div>
      {isOpen && (
        <div className="grid gap-6 pt-4 md:grid-cols-2 md:pl-[176px]">
          <div className="grid content-start gap-4">
            {isDevice && canSeeKeys && <KeySheet source={source} />}
            {isDevice && canConnect && <GuestLinks source={source} />}
            {canEdit && <SourceSettings key={source.version} source={source} />}
          </div>
          <div className="grid content-start gap-4">
            <ReportTable now={now} />
            <Compared source={source} now={now} />
            {isDevice && <AdvicePanel source={source} />}
            <SourceHistory sourceId={source.id} />
          </div>
        </div>
      )}
    </li>
  );
}

/** Since when, over what, from where, and at which ingest point. */
function Since({ report, nodeId }: { report: SourceReport; nodeId: string | null }) {
  const nowMs = useServerNow();
  const points = useLive().figures?.points ?? [];
  const point = points.length > 1 && points.find((one) => one.nodeId === nodeId);
  const words = [
    `for ${duration(nowMs - report.sinceMs)}`,
    protocolWords(report.protocol),
    report.protocol !== 'programme' && `from ${report.remoteAddress}`,
    point && `at ${point.place}`,
  ];
  return <p className="text-[13px] text-ink-soft">{words.filter(Boolean).join(', ')}</p>;
}

function LastSeen({ source }: { source: SourceView }) {
  const zone = useZone();
  return (
    <span className="text-ink-soft">
      {source.lastSeenAtMs === null
        ? SOURCES_TEXT.nothingYet
        : SOURCES_TEXT.nothingSince(dayAndTime(source.lastSeenAtMs, zone))}
    </span>
  );
}

function NextEvents({ events }: { events: SourceView['events'] }) {
  const zone = useZone();
  if (events.length === 0) return null;
  return (
    <p className="text-[13px]">
      {events.map(({ id, title, startsAtMs }, index) => (
        <span key={id}>
          {index > 0 && ' · '}
          <Link className="underline" to={`/events/${id}`}>
            {title}
          </Link>
          , {dayAndTime(startsAtMs, zone)}
        </span>
      ))}
    </p>
  );
}
