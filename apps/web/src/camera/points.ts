import type { PointWay } from '@heliphon/contracts/nodes';
import { type MeasuredPoint, nearestPoint, roundTripsTo } from '@heliphon/core/nodes/nearest-point';

const ANSWERS_WITHIN_MS = 1500;

/** How long it takes to each point and back from here, measured side by side. */
export const measurePoints = (points: readonly PointWay[]): Promise<MeasuredPoint[]> =>
  Promise.all(
    points.map(async (point) => ({
      pointId: point.nodeId,
      roundTripsMs: await roundTripsTo(
        () => isReached(point),
        () => performance.now(),
      ),
    })),
  );

/** The points with the nearest first; the first one stays first unless another is clearly nearer. */
export async function nearestFirst(points: readonly PointWay[]): Promise<PointWay[]> {
  if (points.length < 2) return [...points];
  const nearest = nearestPoint(await measurePoints(points), points[0]!.nodeId);
  return points.toSorted((a, b) => Number(b.nodeId === nearest) - Number(a.nodeId === nearest));
}

/** Whether a point answers at all just now. */
export async function isReached({ nodeId, reachUrl }: PointWay): Promise<boolean> {
  try {
    const signal = AbortSignal.timeout(ANSWERS_WITHIN_MS);
    const answer = await fetch(reachUrl, { cache: 'no-store', signal });
    return answer.ok && (await answer.text()) === nodeId;
  } catch {
    return false;
  }
}
