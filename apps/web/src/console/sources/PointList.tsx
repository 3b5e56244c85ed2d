import type { PointView } from '@heliphon/contracts/nodes';
import { usePoints } from '../../data/sources.js';
import { useZone } from '../../data/session.js';
import { useRoundTrips } from '../../data/round-trips.js';
import { Mark } from '../../ui/Mark.js';
import { doubleWords, loadWords, pointWords, roundTripWords } from '../../words/points.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** The points at which pictures reach us, where there are several: how each is, and how far from here. */
export function PointList() {
  const { data } = usePoints();
  const points = data?.items ?? [];
  const ranked = useRoundTrips(points);
  if (points.length < 2 && !points.some(({ double }) => double)) return null;
  return (
    <section aria-label={SOURCES_TEXT.ingestPoints} className="mt-8">
      <h2 className="text-[21px]">{SOURCES_TEXT.ingestPoints}</h2>
      <p className="mb-2 text-ink-soft">{SOURCES_TEXT.whereEncodersConnectIfOne}</p>
      <ul>
        {points.map((point) => (
          <Point
            key={point.nodeId}
            point={point}
            roundTripMs={
              ranked
                ? (ranked.find(({ pointId }) => pointId === point.nodeId)?.roundTripMs ?? null)
                : undefined
            }
          />
        ))}
      </ul>
    </section>
  );
}

function Point({ point, roundTripMs }: { point: PointView; roundTripMs: number | null | undefined }) {
  const zone = useZone();
  const { place, nodeId, presence, double } = point;
  const load = loadWords(point);
  return (
    <li
      aria-label={place}
      className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-t border-line py-3"
    >
      <div className="min-w-60 flex-1">
        <h3 className="text-[17px]">{place}</h3>
        <p className="flex items-center gap-2">
          <Mark name={presence === 'here' ? 'passed' : presence === 'silent' ? 'caution' : 'trouble'} />
          <span>
            {pointWords(point, zone)}
            {presence === 'here' && <span className="text-ink-soft">, {roundTripWords(roundTripMs)}</span>}
          </span>
        </p>
        {double && (
          <p className="flex items-center gap-2 text-plum">
            <Mark name="caution" /> {doubleWords(nodeId, double, zone)}
          </p>
        )}
      </div>
      {load && <p className="text-[13px] text-ink-soft">{load}</p>}
    </li>
  );
}
