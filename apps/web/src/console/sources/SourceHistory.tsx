import type { SourceHappening } from '@heliphon/contracts/sources';
import { useSourceHistory, useZone } from '../../data/house.js';
import { Failed } from '../../ui/states.js';
import { protocolWords, refusalWords } from '../../words/signal.js';
import { dayAndTime } from '@heliphon/contracts/time-words';

/** When encoders came, went and were turned away, newest first. */
export function SourceHistory({ sourceId }: { sourceId: string }) {
  const zone = useZone();
  const { data, error, mutate } = useSourceHistory(sourceId);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  return (
    <section aria-label="Connections so far" className="border-t border-line pt-3">
      <h3 className="mb-1 font-sans text-[15px] font-semibold">Connections so far</h3>
      {data?.items.length === 0 && <p className="text-ink-soft">No encoder has come yet.</p>}
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
        `began to send from ${remoteAddress ?? 'somewhere'}`,
        protocolWords(protocol ?? ''),
        point && `at ${point}`,
      ]
        .filter(Boolean)
        .join(', ');
    case 'source-went':
      return `stopped: ${reason ?? 'nobody knows why'}`;
    case 'source-refused':
      return `${refusalWords(reason ?? '')} From ${remoteAddress ?? 'somewhere'}.`;
    case 'key-renewed':
      return 'got a new key';
  }
}
