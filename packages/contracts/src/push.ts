import type { ViewersAt } from '@heliphon/core/audience/viewers-now';
import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { DestinationFigures } from '@heliphon/core/control/observations';
import type { Fault } from '@heliphon/core/faults/fault';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import type { RecordingStop, SizesFigures, SignalState } from '@heliphon/core/control/observations';
import type { NodePresence } from '@heliphon/core/nodes/choose-node';
import type { AtDesk } from './desk.js';
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
  /** Who is at which desk; desks with nobody at them are left out. */
  readonly desks: readonly { readonly eventId: string; readonly people: readonly AtDesk[] }[];
  readonly programmes: readonly {
    readonly eventId: string;
    /** The media node that it runs at. */
    readonly nodeId: string;
    readonly sourceId: string | null;
    readonly signal: SignalState;
    readonly viewersHave: ViewersHave['kind'];
    /** What is left of the opening film, while it plays. */
    readonly filmLeftMs: number | null;
    readonly viewers: number;
    readonly viewersAt: readonly ViewersAt[];
    readonly waiting: number;
    readonly keptMs: number;
    readonly recordingStopped: RecordingStop | null;
    readonly sizes: SizesFigures;
    readonly destinations: readonly DestinationFigures[];
    /** What is wrong with it now. */
    readonly faults: readonly Fault[];
  }[];
}

export interface ServerToConsole {
  hint(hint: Hint): void;
  figures(figures: HouseFigures): void;
  chat(batch: { eventId: string; messages: readonly ChatMessage[] }): void;
}

export interface ConsoleToServer {
  /** Whose desk is open here; `null` for none. */
  'at-desk'(eventId: string | null): void;
}

export interface ServerToPublic {
  hint(hint: { seq: number }): void;
  presence(presence: { watching: number; here: number }): void;
  chat(batch: { eventId: string; messages: readonly ChatMessage[] }): void;
}

export interface PublicToServer {
  /**
   * @param joined - called once every hint from then on will come.
   * @param pass - of the event, where it has one: hints come without it too, the chat does not.
   */
  follow(slug: string, joined?: (() => void) | null, pass?: string | null): void;
}
