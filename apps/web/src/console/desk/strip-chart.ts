import type { ViewersHad } from '@heliphon/core/audience/viewers-have';
import type { Fault } from '@heliphon/core/faults/fault';
import type { SignalSample } from '@heliphon/core/signal/signal-sample';
import type { NoteView } from '@heliphon/contracts/notes';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { DESK_TEXT } from '../../words/console/desk.js';

interface Strip {
  readonly name: string;
  readonly unit: string;
  readonly of: (sample: SignalSample) => number | null;
  /** From where to where it is drawn, and the one line that is named. */
  readonly scale: (samples: readonly SignalSample[]) => { range: [number, number]; tick: number };
}

export const STRIPS: readonly Strip[] = [
  {
    name: DESK_TEXT.bitRate,
    unit: 'Mbit/s',
    of: bitRateMbps,
    scale: (samples) => {
      const most = Math.max(1, ...samples.map(bitRateMbps));
      return { range: [0, most * 1.3], tick: Math.round(most) };
    },
  },
  {
    name: DESK_TEXT.frameRate,
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
export const HEIGHT_PX = 132;

function bitRateMbps({ videoBps, audioBps }: SignalSample): number {
  return (videoBps + audioBps) / 1e6;
}

/** The strips' lines, for Plotly. */
export function traces(samples: readonly SignalSample[]): object[] {
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

/** Another event's lines, thin and dotted, moved so that both went on air at one place. */
export const overlaid = (samples: readonly SignalSample[], byMs: number): object[] =>
  (traces(samples.map((sample) => ({ ...sample, atMs: sample.atMs + byMs }))) as { line: object }[]).map(
    (trace) => ({
      ...trace,
      opacity: 0.6,
      line: { ...trace.line, width: 1, dash: 'dot' },
      hoverinfo: 'skip',
    }),
  );

/** Tokens as they stand in this light. */
const colourOf = (
  token: string,
  node: Element = document.querySelector('[data-light]') ?? document.body,
): string => getComputedStyle(node).getPropertyValue(token).trim();

/** What viewers had stands under the strips, and over it what was wrong, as shares of the height. */
const HAD_ROW = [0, 0.1] as const;
const FAULT_ROW = [0.14, 0.24] as const;
const STRIPS_FROM = 0.28;
/** From where to where a strip stands. */
function rowOf(index: number): [number, number] {
  const height = (1 - STRIPS_FROM) / STRIPS.length;
  const top = 1 - index * height;
  return [top - height + 0.04, top];
}
const HAD_COLOUR = { picture: '--pine', film: '--plum', slate: '--marigold', nothing: '--rust' } as const;

const HAD_SHARE = { picture: 1, film: 1, slate: 0.65, nothing: 0.35 } as const;

interface Drawn {
  readonly samples: readonly SignalSample[];
  /** The latest, by the second, for what it is now; `null` where it is over. */
  readonly present: readonly SignalSample[] | null;
  readonly viewersHad: readonly ViewersHad[];
  readonly faults: readonly Fault[];
  readonly notes: readonly NoteView[];
}

/** A fault that lasted a second is still to be seen in an event of hours. */
const NARROWEST = 0.004;

/** @param drawn - samples and what viewers had within what is shown; faults may reach beyond it. */
export function layout(
  node: HTMLElement,
  { samples, present, viewersHad, faults, notes }: Drawn,
  { fromMs, toMs, nowMs }: { readonly fromMs: number; readonly toMs: number; readonly nowMs: number },
  zone: string,
  /** One that is looked at afterwards, and can be zoomed in. */
  zoomedHeightPx?: number,
): object {
  const ink = colourOf('--ink-soft', node);
  const line = colourOf('--line', node);
  const ticks = ticksBetween(fromMs, toMs);
  const axis = (index: number): object => {
    const { range, tick } = STRIPS[index]!.scale(samples);
    return {
      domain: rowOf(index),
      range,
      tickvals: [tick],
      tickfont: { size: 11, color: ink },
      gridcolor: line,
      zeroline: false,
      fixedrange: true,
    };
  };
  return {
    height: zoomedHeightPx ?? HEIGHT_PX,
    dragmode: zoomedHeightPx ? 'zoom' : false,
    margin: { l: 164, r: 8, t: 2, b: 18 },
    paper_bgcolor: 'transparent',
    plot_bgcolor: 'transparent',
    showlegend: false,
    annotations: [
      ...STRIPS.map((strip, index) =>
        nameOf(
          present ? `${strip.name} <b>${valueIn(strip, present, nowMs)}</b>` : strip.name,
          rowOf(index),
          ink,
        ),
      ),
      nameOf(`${DESK_TEXT.faults} <b>${faults.length}</b>`, FAULT_ROW, ink),
      nameOf(DESK_TEXT.viewersHad, HAD_ROW, ink),
    ],
    shapes: [
      ...notes.filter(({ atMs }) => atMs >= fromMs && atMs <= toMs).map(({ atMs }) => ruleAt(atMs, ink)),
      ...faults.flatMap((fault) => bandOf(fault, { fromMs, toMs, nowMs }, colourOf('--rust', node))),
      ...viewersHad.map((span) => ({
        type: 'rect',
        xref: 'x',
        yref: 'paper',
        x0: new Date(span.fromMs),
        x1: new Date(span.toMs),
        y0: HAD_ROW[0],
        // What is less than the picture is lower too: nobody has to tell it by its colour.
        y1: HAD_ROW[1] * HAD_SHARE[span.kind],
        fillcolor: colourOf(HAD_COLOUR[span.kind], node),
        line: { width: 0 },
      })),
    ],
    hovermode: 'x unified',
    font: { family: getComputedStyle(node).fontFamily, color: ink },
    xaxis: {
      range: [new Date(fromMs), new Date(toMs)],
      tickvals: ticks.map((ms) => new Date(ms)),
      ticktext: ticks.map((ms) => timeOfDay(ms, zone)),
      tickfont: { size: 11, color: ink },
      gridcolor: line,
      fixedrange: !zoomedHeightPx,
      anchor: 'free',
      position: 0,
    },
    yaxis: axis(0),
    yaxis2: axis(1),
    yaxis3: axis(2),
  };
}

/** Where a note was taken: a dotted rule from top to bottom. */
const ruleAt = (atMs: number, color: string): object => ({
  type: 'line',
  xref: 'x',
  yref: 'paper',
  x0: new Date(atMs),
  x1: new Date(atMs),
  y0: 0,
  y1: 1,
  line: { width: 1.5, color, dash: 'dot' },
});

/** A fault: a bar in its row, and a faint band through the strips above it. */
function bandOf(
  { fromMs: beganMs, toMs: overMs }: Fault,
  { fromMs, toMs, nowMs }: { readonly fromMs: number; readonly toMs: number; readonly nowMs: number },
  colour: string,
): object[] {
  const x0 = Math.max(fromMs, beganMs);
  const x1 = Math.min(toMs, Math.max(overMs ?? nowMs, beganMs + (toMs - fromMs) * NARROWEST));
  if (x1 <= x0) return [];
  const bar = {
    type: 'rect',
    xref: 'x',
    yref: 'paper',
    x0: new Date(x0),
    x1: new Date(x1),
    line: { width: 0 },
  };
  return [
    { ...bar, y0: FAULT_ROW[0], y1: FAULT_ROW[1], fillcolor: colour },
    { ...bar, y0: FAULT_ROW[1], y1: 1, fillcolor: colour, opacity: 0.14, layer: 'below' },
  ];
}

/** The name of a row, to the left of it. */
const nameOf = (text: string, [from, to]: readonly [number, number], color: string): object => ({
  text,
  xref: 'paper',
  yref: 'paper',
  x: 0,
  xanchor: 'right',
  xshift: -34,
  y: (from + to) / 2,
  yanchor: 'middle',
  showarrow: false,
  font: { size: 12, color },
});

const STEPS_MIN = [1, 5, 10, 15, 30, 60, 120, 240] as const;
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

/** Samples come every five seconds, and are asked for as often: after this there is none any more. */
const STALE_MS = 15_000;

/** What it is now, in words. */
export function valueIn({ unit, of }: Strip, samples: readonly SignalSample[], nowMs: number): string {
  const last = samples.at(-1);
  const value = last && nowMs - last.atMs < STALE_MS ? of(last) : null;
  return value === null ? DESK_TEXT.noValue : `${value.toFixed(1).replace('-', '−')} ${unit}`;
}
