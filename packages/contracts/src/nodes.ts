import type { NodePresence } from '@heliphon/core/nodes/choose-node';
import type { DiskState } from '@heliphon/core/storage/disk-space';

/** What a media node may be called: it travels in a header and in addresses. */
export const NODE_ID = /^[\w-]{1,60}$/;
export const NODE_PLACE_LENGTH = 60;

/** An ingest point by name. */
export interface PointName {
  readonly nodeId: string;
  /** Where it stands; its name where nobody said. */
  readonly place: string;
}

/** An ingest point as a browser or box may measure the way to it and send there. */
export interface PointWay extends PointName {
  /** Answers at once, with the node's name: whatever else stands at its address is not it. */
  readonly reachUrl: string;
  /** Where browsers send to, `ws(s)://…`. */
  readonly sendUrl: string;
}

/** An ingest point: a media node, as the people of a house see it. */
export interface PointView extends PointWay {
  readonly presence: NodePresence;
  /** When it was last heard of; `null` where it never was. */
  readonly lastSeenAtMs: number | null;
  readonly now: PointNow | null;
  /** When somebody else last came by its name, and from where; `null` where nobody did. */
  readonly double: { readonly atMs: number; readonly remoteAddress: string } | null;
}

/** What it has to do at this moment; sources, programmes and viewers are the house's own. */
export interface PointNow {
  /** How much of its processors is in use, from 0; above 1 work waits. */
  readonly load: number;
  readonly disk: DiskState;
  readonly diskFreeBytes: number;
  readonly sources: number;
  readonly programmes: number;
  readonly viewers: number;
}
