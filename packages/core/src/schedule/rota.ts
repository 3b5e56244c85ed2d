import { addDays, hourOfDay, startOfDay } from './civil-time.js';

/** What the rota sheet needs to know of an event. */
export interface RotaEvent {
  readonly id: string;
  readonly doorsAtMs: number;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
  readonly hardStopAtMs: number;
}

/** A stretch of a day, in hours by the wall clock. */
export interface Stretch {
  readonly fromHour: number;
  readonly toHour: number;
}

export interface RotaBar<T extends RotaEvent> {
  readonly event: T;
  readonly doors: Stretch | null;
  readonly programme: Stretch | null;
  readonly overrun: Stretch | null;
  /** Rows keep bars of one day, and the words under them, from lying upon each other. */
  readonly row: number;
}

export interface RotaDay<T extends RotaEvent> {
  readonly startsAtMs: number;
  readonly bars: readonly RotaBar<T>[];
  readonly rows: number;
}

export interface Ruler {
  readonly fromHour: number;
  readonly toHour: number;
}

const USUAL: Ruler = { fromHour: 6, toHour: 23 };
/** The words under a bar take about so much of the ruler; a bar that follows sooner goes to the next row. */
const WORDS_SHARE = 0.17;

/** A week as a rota sheet: a row a day, every event a bar to scale; over midnight it is drawn on both days. */
export function layOutWeek<T extends RotaEvent>(
  events: readonly T[],
  firstDayMs: number,
  zone: string,
): { readonly days: readonly RotaDay<T>[]; readonly ruler: Ruler } {
  const starts = Array.from({ length: 8 }, (_, day) => startOfDay(addDays(firstDayMs, day, zone), zone));
  const clipped = starts.slice(0, 7).map((dayMs, index) => {
    const nextMs = starts[index + 1]!;
    const bars = events
      .filter((event) => event.startsAtMs < nextMs && event.stopsAtMs > dayMs)
      .map((event) => clip(event, dayMs, nextMs, zone));
    return { startsAtMs: dayMs, bars };
  });
  const ruler = rulerFor(clipped.flatMap((day) => day.bars));
  return {
    ruler,
    days: clipped.map((day) => ({ startsAtMs: day.startsAtMs, ...stackRows(day.bars, ruler) })),
  };
}

function clip<T extends RotaEvent>(
  event: T,
  dayMs: number,
  nextMs: number,
  zone: string,
): Omit<RotaBar<T>, 'row'> {
  const stretch = (fromMs: number, toMs: number): Stretch | null => {
    if (toMs <= dayMs || fromMs >= nextMs || toMs <= fromMs) return null;
    return {
      fromHour: fromMs <= dayMs ? 0 : hourOfDay(fromMs, zone),
      toHour: toMs >= nextMs ? 24 : hourOfDay(toMs, zone),
    };
  };
  return {
    event,
    doors: stretch(event.doorsAtMs, event.startsAtMs),
    programme: stretch(event.startsAtMs, event.stopsAtMs),
    overrun: stretch(event.stopsAtMs, event.hardStopAtMs),
  };
}

const stretchesOf = (bar: Omit<RotaBar<RotaEvent>, 'row'>): Stretch[] =>
  [bar.doors, bar.programme, bar.overrun].filter((stretch) => stretch !== null);

/** From 06 to 23, stretched to hold every event, up to the whole day. */
export function rulerFor(bars: readonly Omit<RotaBar<RotaEvent>, 'row'>[]): Ruler {
  const all = bars.flatMap(stretchesOf);
  return {
    fromHour: Math.floor(Math.min(USUAL.fromHour, ...all.map((stretch) => stretch.fromHour))),
    toHour: Math.ceil(Math.max(USUAL.toHour, ...all.map((stretch) => stretch.toHour))),
  };
}

function stackRows<T extends RotaEvent>(
  bars: readonly Omit<RotaBar<T>, 'row'>[],
  ruler: Ruler,
): { bars: RotaBar<T>[]; rows: number } {
  const wordsHours = (ruler.toHour - ruler.fromHour) * WORDS_SHARE;
  const sorted = [...bars].sort((a, b) => a.event.startsAtMs - b.event.startsAtMs);
  const freeFrom: number[] = [];
  const placed = sorted.map((bar) => {
    const stretches = stretchesOf(bar);
    const fromHour = Math.min(...stretches.map((stretch) => stretch.fromHour));
    const wordsFrom = bar.programme?.fromHour ?? fromHour;
    const toHour = Math.max(wordsFrom + wordsHours, ...stretches.map((stretch) => stretch.toHour));
    const found = freeFrom.findIndex((free) => free <= fromHour);
    const row = found < 0 ? freeFrom.length : found;
    freeFrom[row] = toHour;
    return { ...bar, row };
  });
  return { bars: placed, rows: Math.max(1, freeFrom.length) };
}
