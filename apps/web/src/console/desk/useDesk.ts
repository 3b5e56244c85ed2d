import type { DestinationFigures } from '@heliphon/core/control/observations';
import type { Fault } from '@heliphon/core/faults/fault';
import type { EventView } from '@heliphon/contracts/events';
import { namesIn } from '@heliphon/contracts/fault-words';
import type { HouseFigures } from '@heliphon/contracts/push';
import type { SourceNow, SourceView } from '@heliphon/contracts/sources';
import { useDestinations } from '../../data/destinations.js';
import { useLive, useProgrammeNow, useSourceNow } from '../../data/live.js';
import { useSources } from '../../data/sources.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { type DeskFacts, speak, type SpokenLine } from './spoken-line.js';

export interface DeskPlace extends DestinationFigures {
  readonly isPaused: boolean;
  /** The smaller picture that was chosen for it; `null`: the original. */
  readonly chosenSize: string | null;
  readonly name: string;
}

/** Everything that a desk shows of an event at this moment. */
interface Desk {
  readonly programme: HouseFigures['programmes'][number] | null;
  /** What comes in from the source that feeds it. */
  readonly incoming: SourceNow | null;
  readonly source: SourceView | null;
  readonly sourceOf: (id: string | null) => SourceView | null;
  readonly places: readonly DeskPlace[];
  /** It has just come from another media node: places are being connected again. */
  readonly isMoving: boolean;
  readonly faults: readonly Fault[];
  readonly line: SpokenLine;
}

const NOTHING_SENT = { state: { state: 'waiting' }, rateBps: 0, queuedBytes: 0, rendition: null } as const;

export function useDesk(event: EventView): Desk {
  const { data: sources } = useSources();
  const { data: destinations } = useDestinations();
  const programme = useProgrammeNow(event.id);
  const incoming = useSourceNow(programme?.sourceId ?? event.sourceId);
  const points = useLive().figures?.points ?? [];
  const sourceOf = (id: string | null): SourceView | null =>
    sources?.items.find((candidate) => candidate.id === id) ?? null;
  const source = sourceOf(programme?.sourceId ?? event.sourceId);
  const places = event.destinationIds.map((destinationId) => ({
    ...(programme?.destinations.find((place) => place.destinationId === destinationId) ?? NOTHING_SENT),
    destinationId,
    isPaused: event.pausedDestinationIds.includes(destinationId),
    chosenSize: event.placeSizes[destinationId] ?? null,
    name: destinations?.items.find((place) => place.id === destinationId)?.name ?? DESK_TEXT.aPlace,
  }));
  const faults = programme?.faults ?? [];
  const named = [...(sources?.items ?? []), ...(destinations?.items ?? [])];
  const names = Object.fromEntries(named.map(({ id, name }) => [id, name]));
  const line = speak({
    state: event.state,
    sourceName: source?.name ?? null,
    sourceSends: Boolean(incoming?.report?.video),
    viewersHave: programme?.viewersHave ?? null,
    strayed: strayedOf(points, source, programme?.nodeId ?? null),
    filmLeftMs: programme?.filmLeftMs ?? null,
    places,
    faults,
    nameOf: ({ subjectId }) => namesIn(names, subjectId),
  });
  const isMoving = faults.some(({ kind, detail }) => kind === 'node-away' && Boolean(detail.moved));
  return { programme, incoming, source, sourceOf, places, isMoving, faults, line };
}

/** The ingest point that the source should send to has gone, and the event runs at another. */
function strayedOf(
  points: HouseFigures['points'],
  source: SourceView | null,
  runsAt: string | null,
): DeskFacts['strayed'] {
  const chosen = points.find(({ nodeId }) => nodeId === (source?.nodeId ?? points[0]?.nodeId));
  const now = points.find(({ nodeId }) => nodeId === runsAt);
  return chosen?.presence === 'away' && now && now !== chosen ? { from: chosen.place, to: now.place } : null;
}
