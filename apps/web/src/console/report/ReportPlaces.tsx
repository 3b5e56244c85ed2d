import type { SignalReportView, WatchedAt } from '@heliphon/contracts/signal';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { useZone } from '../../data/session.js';
import { endingWords } from '../../words/console/postings.js';
import { REPORT_TEXT } from '../../words/console/report.js';
import { ReportPart } from './ReportPart.js';

/** Where the event was watched, and which postings their platforms ended meanwhile. */
export function ReportPlaces({ view: { watchedAt, endings, names } }: { view: SignalReportView }) {
  const zone = useZone();
  if (watchedAt.length === 0 && endings.length === 0) return null;
  const nameOf = ({ kind, name }: WatchedAt): string => {
    switch (kind) {
      case 'page':
        return REPORT_TEXT.ourOwnPage;
      case 'elsewhere':
        return REPORT_TEXT.otherPlayers;
      case 'site':
        return name;
      case 'place':
        return names[name] ?? REPORT_TEXT.aPlace;
    }
  };
  return (
    <ReportPart title={REPORT_TEXT.whereWatched}>
      <ul className="grid gap-1">
        {watchedAt.map((watched) => (
          <li key={`${watched.kind} ${watched.name}`}>
            {REPORT_TEXT.watchedAt(nameOf(watched), Math.round(watched.average), watched.most)}
          </li>
        ))}
        {endings.map((ending) => (
          <li key={`${ending.destinationId} ${ending.atMs}`} className="grid grid-cols-[62px_1fr] gap-2">
            <span className="figures text-ink-soft">{timeOfDay(ending.atMs, zone)}</span>
            <span>
              {names[ending.destinationId] ?? REPORT_TEXT.aPlace}:{' '}
              {endingWords({ ...ending, endedBecause: ending.because })}.
            </span>
          </li>
        ))}
      </ul>
    </ReportPart>
  );
}
