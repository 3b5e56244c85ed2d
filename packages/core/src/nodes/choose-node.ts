import type { DiskState } from '../storage/disk-space.js';

/** `silent`: not heard of just now, and not given up; `away`: given up. */
export type NodePresence = 'here' | 'silent' | 'away';

/** A media node as it stands, in the order in which nodes were taken in. */
export interface NodeAtHand {
  readonly nodeId: string;
  readonly presence: NodePresence;
  readonly disk: DiskState;
}

/**
 * The node that a source is to send to: the one chosen for it while that can be reckoned with, else the first that is
 * here. Nothing that changes by the minute counts: the address stands in an encoder.
 * @returns `null` where there is no node at all
 */
export function pointOf(chosen: string | null, nodes: readonly NodeAtHand[]): string | null {
  const own = nodes.find(({ nodeId }) => nodeId === chosen) ?? (chosen === null ? nodes[0] : undefined);
  if (own && own.presence !== 'away') return own.nodeId;
  const here = nodes.filter(({ presence }) => presence === 'here');
  // A full disk keeps nothing: such a node is taken only where there is no other.
  return (here.find(({ disk }) => disk !== 'full') ?? here[0] ?? own ?? nodes[0])?.nodeId ?? null;
}

export interface EventToPlace {
  /** Where it is; `null` while its doors are shut: it may go anywhere. */
  readonly at: string | null;
  /** The ingest point chosen for its source. */
  readonly point: string | null;
  /** The nodes at which its source arrives now. */
  readonly arrivesAt: readonly string[];
}

/**
 * Where an event is to run: it stays while its node can be reckoned with, unless its source arrives at another and not
 * there; before its doors it waits where its source arrives, or would. Where nobody is here, nothing moves.
 */
export function chooseNode(
  { at, point, arrivesAt }: EventToPlace,
  nodes: readonly NodeAtHand[],
): string | null {
  const presenceOf = (id: string | null): NodePresence | undefined =>
    nodes.find(({ nodeId }) => nodeId === id)?.presence;
  const arriving = nodes.filter(({ nodeId, presence }) => presence === 'here' && arrivesAt.includes(nodeId));
  const preferred = at ?? point;
  if (arriving.some(({ nodeId }) => nodeId === preferred)) return preferred;
  if (arriving[0]) return arriving[0].nodeId;
  if (at !== null && (presenceOf(at) ?? 'away') !== 'away') return at;
  const next = pointOf(point, nodes);
  return at === null || presenceOf(next) === 'here' ? next : at;
}
