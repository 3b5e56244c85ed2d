import { useEffect, useRef, useState } from 'react';
import type { EventView } from '@heliphon/contracts/events';
import { spansFrom, timesOf, type ViewersHad } from '@heliphon/core/audience/viewers-have';
import type { SignalSample } from '@heliphon/contracts/signal';
import { useSignalSamples } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { useLight } from '../../ui/light.js';
import { duration } from '@heliphon/contracts/time-words';
import { DESK_TEXT } from '../../words/console/desk.js';
import { HEIGHT_PX, layout, STRIPS, traces, valueIn } from './strip-chart.js';

const MINUTE_MS = 60_000;
/** What may be shown; the last minutes are what counts while it runs. `null` is the whole event. */
const STRETCHES = [
  { name: DESK_TEXT.last5Minutes, lastMs: 5 * MINUTE_MS },
  { name: DESK_TEXT.last15Minutes, lastMs: 15 * MINUTE_MS },
  { name: DESK_TEXT.lastHour, lastMs: 60 * MINUTE_MS },
  { name: DESK_TEXT.wholeEvent, lastMs: null },
] as const;
type Stretch = (typeof STRETCHES)[number];

/** Bit rate, frame rate and loudness of the last minutes or of the whole event, on one axis, and what viewers had under them. */
export function SignalStrips({ event }: { event: EventView }) {
  const zone = useZone();
  const light = useLight('booth');
  const { data } = useSignalSamples(event.id);
  const box = useRef<HTMLDivElement>(null);
  const [stretch, setStretch] = useState<Stretch>(STRETCHES[0]);
  const samples = data?.samples;
  const viewersHad = data?.viewersHad;
  const { doorsAtMs, stopsAtMs, airAtMs } = event;
  // As the answer has it: what viewers have lasts until now, also while no samples come.
  const nowMs = Math.max(samples?.at(-1)?.atMs ?? 0, viewersHad?.at(-1)?.toMs ?? 0);

  useEffect(() => {
    const node = box.current;
    if (!node || !samples || !viewersHad || samples.length === 0) return;
    let isOver = false;
    // The library is large: it comes when the first sample is there.
    void import('plotly.js-basic-dist-min').then(({ default: plotly }) => {
      const shows =
        stretch.lastMs === null
          ? { fromMs: doorsAtMs, toMs: Math.max(stopsAtMs, nowMs), nowMs }
          : { fromMs: nowMs - stretch.lastMs, toMs: nowMs, nowMs };
      const { fromMs } = shows;
      const shown = samples.filter(({ atMs }) => atMs >= fromMs);
      // Before it is on air nobody misses a picture.
      const had = airAtMs === null ? [] : spansFrom(viewersHad, Math.max(fromMs, airAtMs));
      const drawn = layout(node, shown, had, shows, zone);
      if (!isOver) void plotly.react(node, traces(shown), drawn, CONFIG);
    });
    return () => {
      isOver = true;
    };
  }, [samples, viewersHad, nowMs, stretch, doorsAtMs, airAtMs, stopsAtMs, zone, light]);

  useEffect(() => {
    const node = box.current;
    return () => {
      if (node) void import('plotly.js-basic-dist-min').then(({ default: plotly }) => plotly.purge(node));
    };
  }, []);

  if (!samples || !viewersHad || samples.length === 0)
    return <p className="pt-2 text-[13px] text-ink-soft">{DESK_TEXT.bitRateFrameRateAnd}</p>;
  return (
    <figure className="m-0 pt-1">
      <div className="flex flex-wrap items-center justify-between gap-x-3 text-[13px]">
        <figcaption className="text-ink-soft">
          <span className="sr-only">{inWords(samples, nowMs)}. </span>
          {airAtMs !== null && hadInWords(spansFrom(viewersHad, airAtMs))}
        </figcaption>
        <div className="flex gap-1" role="group" aria-label={DESK_TEXT.timeShown}>
          {STRETCHES.map((choice) => (
            <button
              key={choice.name}
              type="button"
              aria-pressed={stretch === choice}
              onClick={() => setStretch(choice)}
              className="min-h-6 rounded px-1.5 text-ink-soft aria-pressed:font-semibold aria-pressed:text-ink"
            >
              {choice.name}
            </button>
          ))}
        </div>
      </div>
      <div ref={box} style={{ height: HEIGHT_PX }} aria-hidden="true" />
    </figure>
  );
}

const CONFIG = { displayModeBar: false, responsive: true, staticPlot: false, scrollZoom: false };

const inWords = (samples: readonly SignalSample[], nowMs: number): string =>
  STRIPS.map((strip) => `${strip.name} ${valueIn(strip, samples, nowMs)}`).join(', ');

/** Empty where nobody knows: an event from before nodes told. */
function hadInWords(spans: readonly ViewersHad[]): string {
  if (spans.length === 0) return '';
  const [slate, nothing] = [timesOf('slate', spans), timesOf('nothing', spans)];
  const inAll = ({ totalMs }: { totalMs: number }): string => duration(Math.max(1000, totalMs));
  if (slate.times > 0)
    return DESK_TEXT.sawTheSlate(slate.times, inAll(slate), nothing.times > 0 ? inAll(nothing) : null);
  return nothing.times > 0
    ? DESK_TEXT.wereWithoutPicture(nothing.times, inAll(nothing))
    : DESK_TEXT.alwaysHadPicture;
}
