import { useEffect, useState } from 'react';
import type { PointWay } from '@heliphon/contracts/nodes';
import { type RankedPoint, rankPoints } from '@heliphon/core/nodes/nearest-point';
import { measurePoints } from '../camera/points.js';

/** How far the points are from this browser, measured once; `null` until that is known. */
export function useRoundTrips(points: readonly PointWay[]): readonly RankedPoint[] | null {
  const [ranked, setRanked] = useState<readonly RankedPoint[] | null>(null);
  const isChoice = points.length > 1;
  const addresses = points.map(({ reachUrl }) => reachUrl).join(' ');
  useEffect(() => {
    if (!isChoice) return;
    let isOver = false;
    void measurePoints(points).then((measured) => {
      if (!isOver) setRanked(rankPoints(measured));
    });
    return () => {
      isOver = true;
    };
    // The list is made again with every answer; what is measured changes with its addresses.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [addresses, isChoice]);
  return ranked;
}
