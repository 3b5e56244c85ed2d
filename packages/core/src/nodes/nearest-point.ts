/** The ways to an ingest point and back, in ms, as they were measured one after another. */
export interface MeasuredPoint {
  readonly pointId: string;
  readonly roundTripsMs: readonly number[];
}

export interface RankedPoint {
  readonly pointId: string;
  /** The shortest that was measured, since all that comes on top is the moment's; `null` where nothing came back. */
  readonly roundTripMs: number | null;
}

/** So many questions to each point: the first opens the connection and does not count. */
const QUESTIONS = 6;
/** Who is this much nearer is nearer; less is the weather of the network. */
const CLEARLY_NEARER = { byMs: 5, byShare: 0.2 } as const;

/**
 * Asks a point again and again how far it is.
 * @param ask - whether it answered, once it has
 * @returns ms each; none where a question was not answered
 */
export async function roundTripsTo(ask: () => Promise<boolean>, nowMs: () => number): Promise<number[]> {
  const measured: number[] = [];
  for (let asked = 0; asked < QUESTIONS; asked += 1) {
    const beganMs = nowMs();
    if (!(await ask())) return [];
    if (asked > 0) measured.push(nowMs() - beganMs);
  }
  return measured;
}

/** By nearness; those that nobody reached stand last, in their own order. */
export function rankPoints(points: readonly MeasuredPoint[]): RankedPoint[] {
  return points
    .map(({ pointId, roundTripsMs }) => ({ pointId, roundTripMs: shortestOf(roundTripsMs) }))
    .toSorted((a, b) => (a.roundTripMs ?? Infinity) - (b.roundTripMs ?? Infinity) || 0);
}

/**
 * The nearest point. The one there is stays unless another is clearly nearer, so that an address that was typed into an
 * encoder does not change by itself. @returns `null` where none was reached
 */
export function nearestPoint(points: readonly MeasuredPoint[], present: string | null): string | null {
  const ranked = rankPoints(points).filter(({ roundTripMs }) => roundTripMs !== null);
  const [first] = ranked;
  const own = ranked.find(({ pointId }) => pointId === present);
  if (!first || !own) return first?.pointId ?? null;
  const gainMs = own.roundTripMs! - first.roundTripMs!;
  const isClear = gainMs >= CLEARLY_NEARER.byMs && gainMs >= own.roundTripMs! * CLEARLY_NEARER.byShare;
  return isClear ? first.pointId : own.pointId;
}

const shortestOf = (values: readonly number[]): number | null =>
  values.length > 0 ? Math.min(...values) : null;
