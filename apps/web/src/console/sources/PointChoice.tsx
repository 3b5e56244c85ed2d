import { useEffect, useId, useState } from 'react';
import { mutate } from 'swr';
import type { PointView } from '@heliphon/contracts/nodes';
import type { SourceKey, SourceView } from '@heliphon/contracts/sources';
import { nearestPoint, type RankedPoint } from '@heliphon/core/nodes/nearest-point';
import { editSource, usePoints } from '../../data/sources.js';
import { useCan } from '../../data/session.js';
import { useRoundTrips } from '../../data/round-trips.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { roundTripWords, sendElsewhereWords } from '../../words/points.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** At which ingest point an encoder is to arrive: the nearest from here, unless somebody knows better. */
export function PointChoice({ source, sourceKey }: { source: SourceView; sourceKey: SourceKey }) {
  const { data } = usePoints();
  return data && data.items.length > 1 && sourceKey.point ? (
    <Choice source={source} presentId={sourceKey.point.nodeId} points={data.items} />
  ) : null;
}

interface ChoiceProps {
  readonly source: SourceView;
  /** Where the addresses lead that are shown. */
  readonly presentId: string;
  readonly points: readonly PointView[];
}

function Choice({ source, presentId, points }: ChoiceProps) {
  const canEdit = useCan('sources.edit');
  const name = useId();
  const { error, run } = useAction();
  const ranked = useRoundTrips(points);
  /** Shown at once, while the server writes it down. */
  const [picked, setPicked] = useState<string | null>(null);
  const chosenId = picked ?? source.nodeId ?? presentId;
  const placeOf = (id: string): string => points.find(({ nodeId }) => nodeId === id)?.place ?? id;
  const choose = (nodeId: string): void =>
    void run(async () => {
      setPicked(nodeId);
      try {
        await editSource(source, { nodeId });
        await Promise.all([mutate('/api/sources?limit=200'), mutate(`/api/sources/${source.id}/key`)]);
        toldWithUndo(SOURCES_TEXT.shouldNowSendTo(source.name, placeOf(nodeId)), source.id);
      } finally {
        setPicked(null);
      }
    });

  const hasRoom = ({ pointId }: RankedPoint): boolean =>
    points.some(({ nodeId, now }) => nodeId === pointId && now?.disk !== 'full');
  const nearest = ranked && nearestPoint(ranked.filter(hasRoom).map(measured), presentId);
  // One that was out of reach when it was measured may be back: nothing is chosen over it.
  const isComparable = ranked?.some(
    ({ pointId, roundTripMs }) => pointId === presentId && roundTripMs !== null,
  );
  const isToBeChosen =
    canEdit && source.nodeId === null && isComparable && nearest !== null && nearest !== presentId;
  useEffect(() => {
    if (isToBeChosen) choose(nearest);
    // Once: who then chooses another is not overruled.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isToBeChosen]);

  return (
    <fieldset className="grid gap-1.5" disabled={!canEdit}>
      <legend className="mb-1 font-semibold">{SOURCES_TEXT.ingestPoint}</legend>
      {points.map(({ nodeId, place, presence }) => {
        const roundTripMs = ranked?.find(({ pointId }) => pointId === nodeId)?.roundTripMs;
        return (
          <label key={nodeId} className="flex flex-wrap items-baseline gap-x-2.5">
            <input
              type="radio"
              name={name}
              className="size-4.5 translate-y-0.5 accent-[var(--pine)]"
              checked={nodeId === chosenId}
              onChange={() => choose(nodeId)}
            />
            <span>{place}</span>
            <span className="text-[13px] text-ink-soft">
              {presence === 'away'
                ? SOURCES_TEXT.doesNotAnswer
                : roundTripWords(ranked ? (roundTripMs ?? null) : undefined)}
              {nodeId === nearest && nodeId === ranked?.[0]?.pointId && SOURCES_TEXT.nearest}
            </span>
          </label>
        );
      })}
      {picked === null && chosenId !== presentId && (
        <p role="status" className="flex items-start gap-2 text-plum">
          <Mark name="caution" /> {sendElsewhereWords(placeOf(chosenId), placeOf(presentId))}
        </p>
      )}
      <Fault error={error} />
    </fieldset>
  );
}

const measured = ({ pointId, roundTripMs }: RankedPoint) => ({
  pointId,
  roundTripsMs: roundTripMs === null ? [] : [roundTripMs],
});
