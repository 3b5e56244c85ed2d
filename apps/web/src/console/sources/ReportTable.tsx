import type { SourceNow } from '@heliphon/contracts/sources';
import { useServerNow } from '../../data/server-clock.js';
import { duration } from '@heliphon/contracts/time-words';
import { loudnessWords, megabits, protocolWords, refusalWords, transportWords } from '../../words/signal.js';

const SECOND_MS = 1000;
const NEWS_MS = 10 * 60_000;

/** What a source sends, in figures. */
export function ReportTable({ now }: { now: SourceNow | null }) {
  const nowMs = useServerNow();
  const refusal = now?.lastRefusal && nowMs - now.lastRefusal.atMs < NEWS_MS ? now.lastRefusal : null;
  const report = now?.report;
  if (!report) {
    return (
      <p className="text-ink-soft" role="status">
        Nothing is coming in. {refusal && <b className="text-rust">{refusalWords(refusal.reason)}</b>}
      </p>
    );
  }
  const { video, audio } = report;
  const rows: [string, string][] = [
    ['Sending for', duration(nowMs - report.sinceMs)],
    [
      'From',
      [
        report.protocol === 'programme' ? null : report.remoteAddress,
        protocolWords(report.protocol),
        report.encoder,
      ]
        .filter(Boolean)
        .join(', '),
    ],
    ...(report.transport ? [['The line', transportWords(report.transport)] as [string, string]] : []),
    ...(video
      ? ([
          ['Picture', `${video.widthPx} × ${video.heightPx}, ${video.frameRateFps.toFixed(1)} fps`],
          ['Bit rate', megabits(video.bitrateBps)],
          [
            'Keyframe every',
            video.keyframeIntervalMs === null
              ? 'not known yet'
              : `${(video.keyframeIntervalMs / SECOND_MS).toFixed(1)} s`,
          ],
          ...(video.blackMs > SECOND_MS ? [['Seen', `black for ${duration(video.blackMs)}`]] : []),
          ...(video.frozenMs > 0 ? [['Seen', `standing still for ${duration(video.frozenMs)}`]] : []),
        ] as [string, string][])
      : ([['Picture', 'none']] as [string, string][])),
    [
      'Sound',
      audio
        ? `${audio.sampleRateHz / SECOND_MS} kHz, ${audio.channels === 1 ? 'mono' : audio.channels === 2 ? 'stereo' : `${audio.channels} channels`}, ${Math.round(audio.bitrateBps / SECOND_MS)} kbit/s`
        : 'none',
    ],
    ...(audio?.loudness ? [['Loudness', loudnessWords(audio.loudness)] as [string, string]] : []),
  ];
  return (
    <dl className="grid min-w-0 flex-1 grid-cols-[auto_1fr] content-start gap-x-4 gap-y-0.5 text-sm">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-ink-soft">{name}</dt>
          <dd className="figures min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
