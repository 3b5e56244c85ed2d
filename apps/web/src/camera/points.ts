import type { PointWay } from '@heliphon/contracts/nodes';
import { type MeasuredPoint, nearestPoint, ROUND_TRIPS } from '@heliphon/core/nodes/nearest-point';

const ANSWERS_WITHIN_MS = 1500;

/** How long it takes to each point and back from here, measured side by side. */
export const measurePoints = (points: readonly PointWay[]): Promise<MeasuredPoint[]> =>
  Promise.all(
    points.map(async ({ nodeId, healthUrl }) => ({
      pointId: nodeId,
      roundTripsMs: await roundTrips(healthUrl),
    })),
  );

/** The points with the nearest first; the first one stays first unless another is clearly nearer. */
export async function nearestFirst(points: readonly PointWay[]): Promise<PointWay[]> {
  if (points.length < 2) return [...points];
  const nearest = nearestPoint(await measurePoints(points), points[0]!.nodeId);
  return points.toSorted((a, b) => Number(b.nodeId === nearest) - Number(a.nodeId === nearest));
}

/** Whether a point answers at all just now. */
export async function isReached({ healthUrl }: PointWay): Promise<boolean> {
  return (await roundTrip(healthUrl)) !== null;
}

/** The first question opens the connection, and does not count. */
async function roundTrips(healthUrl: string): Promise<number[]> {
  const measured: number[] = [];
  for (let asked = 0; asked < ROUND_TRIPS; asked += 1) {
    const ms = await roundTrip(healthUrl);
    if (ms === null) return [];
    if (asked > 0) measured.push(ms);
  }
  return measured;
}

async function roundTrip(healthUrl: string): Promise<number | null> {
  const beganMs = performance.now();
  const signal = AbortSignal.timeout(ANSWERS_WITHIN_MS);
  return fetch(healthUrl, { cache: 'no-store', signal }).then(
    ({ ok }) => (ok ? performance.now() - beganMs : null),
    () => null,
  );
}
