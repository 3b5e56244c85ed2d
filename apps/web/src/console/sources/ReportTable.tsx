import { Fragment } from 'react';
import type { SourceNow } from '@heliphon/contracts/sources';
import { useServerNow } from '../../data/server-clock.js';
import { duration } from '@heliphon/contracts/time-words';
import { loudnessWords, megabits, protocolWords, refusalWords, transportWords } from '../../words/signal.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

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
        {SOURCES_TEXT.nothingIsComingIn}{' '}
        {refusal && <b className="text-rust">{refusalWords(refusal.reason)}</b>}
      </p>
    );
  }
  const { video, audio } = report;
  const rows: [string, string][] = [
    [SOURCES_TEXT.sendingFor, duration(nowMs - report.sinceMs)],
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
    ...(report.transport
      ? [[SOURCES_TEXT.theLine, transportWords(report.transport)] as [string, string]]
      : []),
    ...(video
      ? ([
          ['Picture', `${video.widthPx} × ${video.heightPx}, ${video.frameRateFps.toFixed(1)} fps`],
          [SOURCES_TEXT.bitRate, megabits(video.bitrateBps)],
          [
            SOURCES_TEXT.keyframeEvery,
            video.keyframeIntervalMs === null
              ? SOURCES_TEXT.notKnownYet
              : `${(video.keyframeIntervalMs / SECOND_MS).toFixed(1)} s`,
          ],
          ...(video.blackMs > SECOND_MS ? [['Seen', SOURCES_TEXT.blackFor(duration(video.blackMs))]] : []),
          ...(video.frozenMs > 0 ? [['Seen', SOURCES_TEXT.frozenFor(duration(video.frozenMs))]] : []),
        ] as [string, string][])
      : ([['Picture', 'none']] as [string, string][])),
    [
      'Sound',
      audio
        ? [
            `${audio.sampleRateHz / SECOND_MS} kHz`,
            audio.channels === 1 ? 'mono' : audio.channels === 2 ? 'stereo' : `${audio.channels} channels`,
            `${Math.round(audio.bitrateBps / SECOND_MS)} kbit/s`,
          ].join(', ')
        : 'none',
    ],
    ...(audio?.loudness ? [['Loudness', loudnessWords(audio.loudness)] as [string, string]] : []),
  ];
  return (
    <dl className="grid min-w-0 flex-1 grid-cols-[auto_1fr] content-start gap-x-4 gap-y-0.5 text-sm">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-ink-soft">{name}</dt>
          <dd className="figures min-w-0">
            {value.split(', ').map((part, index) => (
              <Fragment key={index}>
                {index > 0 && ', '}
                {/* A figure stays with its unit. */}
                <span className="inline-block max-w-full break-words">{part}</span>
              </Fragment>
            ))}
          </dd>
        </div>
      ))}
    </dl>
  );
}
