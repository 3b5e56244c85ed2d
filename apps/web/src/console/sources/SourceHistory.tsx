import type { SourceHappening } from '@heliphon/contracts/sources';
import { useSourceHistory } from '../../data/sources.js';
import { useZone } from '../../data/session.js';
import { Failed } from '../../ui/states.js';
import { endingWords, protocolWords, refusalWords } from '../../words/signal.js';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** When encoders came, went and were turned away, newest first. */
export function SourceHistory({ sourceId }: { sourceId: string }) {
  const zone = useZone();
  const { data, error, mutate } = useSourceHistory(sourceId);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  return (
    <section aria-label={SOURCES_TEXT.connectionHistory} className="border-t border-line pt-3">
      <h3 className="mb-1 font-sans text-[15px] font-semibold">{SOURCES_TEXT.connectionHistory}</h3>
      {data?.items.length === 0 && <p className="text-ink-soft">{SOURCES_TEXT.noEncoderHasConnectedYet}</p>}
      <ul className="grid max-h-48 gap-0.5 overflow-y-auto text-sm" tabIndex={0}>
        {data?.items.map((entry) => (
          <li key={entry.id} className="flex gap-3">
            <span className="figures w-40 shrink-0 text-ink-soft">{dayAndTime(entry.atMs, zone)}</span>
            <span className={entry.kind === 'source-refused' ? 'text-rust' : ''}>{happeningText(entry)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function happeningText({ kind, remoteAddress, protocol, point, reason }: SourceHappening): string {
  switch (kind) {
    case 'source-came':
      return [
        SOURCES_TEXT.startedSendingFrom(remoteAddress ?? 'somewhere'),
        protocolWords(protocol ?? ''),
        point && `at ${point}`,
      ]
        .filter(Boolean)
        .join(', ');
    case 'source-went':
      return endingWords(reason);
    case 'source-refused':
      return `${refusalWords(reason ?? '')} From ${remoteAddress ?? 'somewhere'}.`;
    case 'key-renewed':
      return SOURCES_TEXT.gotANewKey;
  }
}
