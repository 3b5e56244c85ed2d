import { Bell, BellOff } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { EventView } from '@heliphon/contracts/events';
import { spansFrom, timesOf, type ViewersHad } from '@heliphon/core/audience/viewers-have';
import type { SignalSample } from '@heliphon/core/signal/signal-sample';
import { useSignal } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { useLight } from '../../ui/light.js';
import { duration } from '@heliphon/contracts/time-words';
import { DESK_TEXT } from '../../words/console/desk.js';
import { useSoundWish } from './fault-sound.js';
import { HEIGHT_PX, layout, STRIPS, traces, valueIn } from './strip-chart.js';

const MINUTE_MS = 60_000;
/** What may be shown, and how fine; the last minutes are what counts while it runs. `null` is the whole event. */
const STRETCHES = [
  { name: DESK_TEXT.last5Minutes, lastMs: 5 * MINUTE_MS, everyMs: 1000 },
  { name: DESK_TEXT.last15Minutes, lastMs: 15 * MINUTE_MS, everyMs: 3000 },
  { name: DESK_TEXT.lastHour, lastMs: 60 * MINUTE_MS, everyMs: 10_000 },
  { name: DESK_TEXT.wholeEvent, lastMs: null, everyMs: 30_000 },
] as const;
const NO_SAMPLES: readonly SignalSample[] = [];
type Stretch = (typeof STRETCHES)[number];

/** Bit rate, frame rate and loudness of the last minutes or of the whole event, on one axis, and what viewers had under them. */
export function SignalStrips({ event }: { event: EventView }) {
  const zone = useZone();
  const light = useLight('booth');
  const [stretch, setStretch] = useState<Stretch>(STRETCHES[0]);
  const { data } = useSignal(event.id, stretch.lastMs, stretch.everyMs);
  // What it is now stands beside a whole event too, whose samples are means of half a minute.
  const present = useSignal(event.id, STRETCHES[0].lastMs, STRETCHES[0].everyMs).data?.samples ?? NO_SAMPLES;
  const box = useRef<HTMLDivElement>(null);
  const samples = data?.samples;
  const viewersHad = data?.viewersHad;
  const faults = data?.faults;
  const notes = data?.notes;
  const { doorsAtMs, stopsAtMs, airAtMs } = event;
  // As the answer has it: what viewers have lasts until now, also while no samples come.
  const nowMs = Math.max(samples?.at(-1)?.atMs ?? 0, viewersHad?.at(-1)?.toMs ?? 0);

  useEffect(() => {
    const node = box.current;
    if (!node || !samples || !viewersHad || !faults || !notes || samples.length === 0) return;
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
      const drawn = layout(node, { samples: shown, present, viewersHad: had, faults, notes }, shows, zone);
      if (!isOver) void plotly.react(node, traces(shown), drawn, CONFIG);
    });
    return () => {
      isOver = true;
    };
  }, [
    samples,
    present,
    viewersHad,
    faults,
    notes,
    nowMs,
    stretch,
    doorsAtMs,
    airAtMs,
    stopsAtMs,
    zone,
    light,
  ]);

  useEffect(() => {
    const node = box.current;
    return () => {
      if (node) void import('plotly.js-basic-dist-min').then(({ default: plotly }) => plotly.purge(node));
    };
  }, []);

  if (!samples || !viewersHad || !faults || samples.length === 0)
    return <p className="pt-2 text-[13px] text-ink-soft">{DESK_TEXT.bitRateFrameRateAnd}</p>;
  return (
    <figure className="m-0 pt-1">
      <div className="flex flex-wrap items-center justify-between gap-x-3 text-[13px]">
        <figcaption className="text-ink-soft">
          <span className="sr-only">
            {inWords(present, nowMs)}. {DESK_TEXT.faultsSoFar(faults.length)}{' '}
          </span>
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
          <SoundToggle />
        </div>
      </div>
      <div ref={box} style={{ height: HEIGHT_PX }} aria-hidden="true" />
    </figure>
  );
}

function SoundToggle() {
  const [isOn, set] = useSoundWish();
  const Icon = isOn ? Bell : BellOff;
  return (
    <button
      type="button"
      aria-pressed={isOn}
      aria-label={DESK_TEXT.soundOnFaults}
      title={DESK_TEXT.soundOnFaults}
      onClick={() => set(!isOn)}
      className="grid size-6 place-items-center rounded text-ink-soft aria-pressed:text-ink"
    >
      <Icon size={16} strokeWidth={1.75} aria-hidden="true" />
    </button>
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
