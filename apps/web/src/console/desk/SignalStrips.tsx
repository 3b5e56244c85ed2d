import { useEffect, useRef } from 'react';
import type { EventView } from '@heliphon/contracts/events';
import type { SignalSample } from '@heliphon/contracts/signal';
import { useSignalSamples, useZone } from '../../data/house.js';
import { useLight } from '../../ui/light.js';
import { timeOfDay } from '@heliphon/contracts/time-words';

interface Strip {
  readonly name: string;
  readonly unit: string;
  readonly of: (sample: SignalSample) => number | null;
  /** From where to where it is drawn, and the one line that is named. */
  readonly scale: (samples: readonly SignalSample[]) => { range: [number, number]; tick: number };
}

const STRIPS: readonly Strip[] = [
  {
    name: 'Bit rate',
    unit: 'Mbit/s',
    of: ({ bitrateBps }) => bitrateBps / 1e6,
    scale: (samples) => {
      const most = Math.max(1, ...samples.map(({ bitrateBps }) => bitrateBps / 1e6));
      return { range: [0, most * 1.3], tick: Math.round(most) };
    },
  },
  {
    name: 'Frame rate',
    unit: 'fps',
    of: ({ frameRateFps }) => frameRateFps,
    scale: () => ({ range: [0, 66], tick: 30 }),
  },
  {
    name: 'Loudness',
    unit: 'LUFS',
    of: ({ shortTermLufs }) => shortTermLufs,
    scale: () => ({ range: [-50, -5], tick: -23 }), // EBU R 128's target
  },
];
const HEIGHT_PX = 112;

/** Bit rate, frame rate and loudness over the event's time, under one another on one axis. */
export function SignalStrips({ event }: { event: EventView }) {
  const zone = useZone();
  const light = useLight('booth');
  const { data } = useSignalSamples(event.id);
  const box = useRef<HTMLDivElement>(null);
  const samples = data?.samples;
  const { doorsAtMs, stopsAtMs } = event;

  useEffect(() => {
    const node = box.current;
    if (!node || !samples || samples.length === 0) return;
    let isOver = false;
    // The library is large: it comes when the first sample is there.
    void import('plotly.js-basic-dist-min').then(({ default: plotly }) => {
      if (!isOver)
        void plotly.react(node, traces(samples), layout(node, samples, doorsAtMs, stopsAtMs, zone), CONFIG);
    });
    return () => {
      isOver = true;
    };
  }, [samples, doorsAtMs, stopsAtMs, zone, light]);

  useEffect(() => {
    const node = box.current;
    return () => {
      if (node) void import('plotly.js-basic-dist-min').then(({ default: plotly }) => plotly.purge(node));
    };
  }, []);

  if (!samples || samples.length === 0)
    return (
      <p className="pt-2 text-[13px] text-ink-soft">
        Strips of bit rate, frame rate and loudness begin with the picture.
      </p>
    );
  return (
    <figure className="m-0 pt-1">
      <div ref={box} style={{ height: HEIGHT_PX }} aria-hidden="true" />
      <figcaption className="sr-only">{inWords(samples)}</figcaption>
    </figure>
  );
}

const CONFIG = { displayModeBar: false, responsive: true, staticPlot: false, scrollZoom: false };

function traces(samples: readonly SignalSample[]): object[] {
  const x = samples.map(({ atMs }) => new Date(atMs));
  const colours = ['--pine', '--ink-soft', '--marigold-text'];
  return STRIPS.map(({ name, unit, of }, index) => ({
    type: 'scatter',
    mode: 'lines',
    name,
    x,
    y: samples.map(of),
    yaxis: index === 0 ? 'y' : `y${index + 1}`,
    connectgaps: false,
    line: { width: 1.5, color: colourOf(colours[index]!) },
    hovertemplate: `%{y:.1f} ${unit}<extra>${name}</extra>`,
  }));
}

/** Tokens as they stand in this light. */
const colourOf = (
  token: string,
  node: Element = document.querySelector('[data-light]') ?? document.body,
): string => getComputedStyle(node).getPropertyValue(token).trim();

function layout(
  node: HTMLElement,
  samples: readonly SignalSample[],
  doorsAtMs: number,
  stopsAtMs: number,
  zone: string,
): object {
  const ink = colourOf('--ink-soft', node);
  const line = colourOf('--line', node);
  const ticks = ticksBetween(doorsAtMs, stopsAtMs);
  const axis = (index: number): object => {
    const { range, tick } = STRIPS[index]!.scale(samples);
    return {
      domain: [1 - (index + 1) / STRIPS.length + 0.05, 1 - index / STRIPS.length],
      range,
      tickvals: [tick],
      tickfont: { size: 10, color: ink },
      gridcolor: line,
      zeroline: false,
      fixedrange: true,
    };
  };
  return {
    height: HEIGHT_PX,
    margin: { l: 104, r: 8, t: 2, b: 18 },
    paper_bgcolor: 'transparent',
    plot_bgcolor: 'transparent',
    showlegend: false,
    annotations: STRIPS.map(({ name }, index) => ({
      text: name,
      xref: 'paper',
      yref: 'paper',
      x: 0,
      xanchor: 'right',
      xshift: -34,
      y: 1 - (index + 0.5) / STRIPS.length,
      showarrow: false,
      font: { size: 11, color: ink },
    })),
    hovermode: 'x unified',
    font: { family: 'inherit', color: ink },
    xaxis: {
      range: [new Date(doorsAtMs), new Date(stopsAtMs)],
      tickvals: ticks.map((ms) => new Date(ms)),
      ticktext: ticks.map((ms) => timeOfDay(ms, zone)),
      tickfont: { size: 10, color: ink },
      gridcolor: line,
      fixedrange: true,
      anchor: 'y3',
    },
    yaxis: axis(0),
    yaxis2: axis(1),
    yaxis3: axis(2),
  };
}

const STEPS_MIN = [5, 10, 15, 30, 60, 120, 240] as const;
const MOST_TICKS = 9;

/** Whole steps of the clock, few enough to be read. */
function ticksBetween(fromMs: number, toMs: number): number[] {
  const stepMs = 60_000 * (STEPS_MIN.find((step) => (toMs - fromMs) / (step * 60_000) <= MOST_TICKS) ?? 480);
  const first = Math.ceil(fromMs / stepMs) * stepMs;
  return Array.from(
    { length: Math.max(0, Math.floor((toMs - first) / stepMs) + 1) },
    (_, index) => first + index * stepMs,
  );
}

function inWords(samples: readonly SignalSample[]): string {
  const last = samples.at(-1)!;
  return STRIPS.map(({ name, unit, of }) => {
    const value = of(last);
    return `${name} ${value === null ? 'unknown' : `${value.toFixed(1)} ${unit}`}`;
  }).join(', ');
}
