import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import type { RecordingStop, SignalState } from '@heliphon/core/control/observations';
import type { NodePresence } from '@heliphon/core/nodes/choose-node';
import type { ChatMessage } from './chat.js';
import type { PointName } from './nodes.js';
import type { SourceNow } from './sources.js';

/** A hint that something changed; what changed is asked for. */
export interface Hint {
  readonly topic: PushTopic;
  readonly seq: number;
}

export type PushTopic = 'events' | 'sources' | 'destinations' | 'recordings' | 'channels' | 'files';

/** Live figures of a house, once a second. */
export interface HouseFigures {
  readonly atMs: number;
  readonly serverNowMs: number;
  /** `false` while no media node answers. */
  readonly nodeIsHere: boolean;
  readonly points: readonly (PointName & { readonly presence: NodePresence })[];
  readonly disk: DiskState;
  readonly sources: readonly SourceNow[];
  readonly programmes: readonly {
    readonly eventId: string;
    /** The media node that it runs at. */
    readonly nodeId: string;
    readonly signal: SignalState;
    readonly viewersHave: ViewersHave['kind'];
    /** What is left of the opening film, while it plays. */
    readonly filmLeftMs: number | null;
    readonly viewers: number;
    readonly waiting: number;
    readonly keptMs: number;
    readonly recordingStopped: RecordingStop | null;
    readonly destinations: readonly { readonly destinationId: string; readonly state: DestinationState }[];
  }[];
}

export interface ServerToConsole {
  hint(hint: Hint): void;
  figures(figures: HouseFigures): void;
  chat(batch: { eventId: string; messages: readonly ChatMessage[] }): void;
}

export interface ServerToPublic {
  hint(hint: { seq: number }): void;
  presence(presence: { watching: number; here: number }): void;
  chat(batch: { eventId: string; messages: readonly ChatMessage[] }): void;
}

export interface PublicToServer {
  /** @param joined - called once every hint from then on will come. */
  follow(slug: string, joined?: () => void): void;
}
