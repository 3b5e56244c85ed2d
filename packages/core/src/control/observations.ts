import type { ViewersAt } from '../audience/viewers-now.js';
import type { ViewersHave } from '../audience/viewers-have.js';
import type { DestinationState } from '../destinations/destination-state.js';
import type { Fault } from '../faults/fault.js';
import type { WholeLoudness } from '../loudness/loudness-tally.js';
import type { Ladder, PlannedRendition, RenditionChoice } from '../ladder/renditions.js';
import type { EventLife } from '../schedule/event-life.js';
import type { IngestProtocol, SourceReport } from '../signal/source-report.js';
import type { DiskState } from '../storage/disk-space.js';

/** Why nothing is being recorded while live goes on. */
export const RECORDING_STOPS = ['disk-full', 'disk-fault'] as const;
export type RecordingStop = (typeof RECORDING_STOPS)[number];

/** What must not be lost: kept in the node's journal until the server has stored it. */
export type Observation =
  | {
      readonly kind: 'programme-moved';
      readonly programmeId: string;
      readonly life: EventLife;
      readonly atMs: number;
    }
  | {
      readonly kind: 'recording-kept';
      readonly programmeId: string;
      /** Without the gaps, in which a slate stood. */
      readonly durationMs: number;
      readonly gapsMs: number;
      readonly sizeBytes: number;
      /** `null` where nobody listened. */
      readonly loudness: WholeLoudness | null;
      readonly atMs: number;
    }
  | {
      readonly kind: 'recording-stopped';
      readonly programmeId: string;
      readonly reason: RecordingStop;
      readonly atMs: number;
    }
  | { readonly kind: 'recording-resumed'; readonly programmeId: string; readonly atMs: number }
  /** What viewers of a programme have from `atMs` on. */
  | {
      readonly kind: 'viewers-have';
      readonly programmeId: string;
      readonly have: ViewersHave;
      readonly atMs: number;
    }
  /** Something is wrong with a programme from now on, or is so no longer. */
  | { readonly kind: 'fault'; readonly programmeId: string; readonly fault: Fault; readonly atMs: number }
  /** A clip that there is nothing for: no picture, or none any more. */
  | { readonly kind: 'clip-failed'; readonly programmeId: string; readonly atMs: number }
  | { readonly kind: 'recording-removed'; readonly programmeId: string; readonly atMs: number }
  /** All that another node had of it is here now. */
  | {
      readonly kind: 'recording-joined';
      readonly programmeId: string;
      readonly nodeId: string;
      readonly atMs: number;
    }
  | {
      readonly kind: 'source-came';
      readonly sourceId: string;
      readonly protocol: IngestProtocol;
      readonly remoteAddress: string;
      readonly atMs: number;
    }
  | {
      readonly kind: 'source-went';
      readonly sourceId: string;
      readonly reason: SourceEnding;
      readonly atMs: number;
    }
  | {
      readonly kind: 'source-refused';
      readonly sourceId: string | null;
      readonly reason: SourceRefusalReason;
      readonly remoteAddress: string;
      readonly atMs: number;
    };

/** Why a source is not sending any more. */
export const SOURCE_ENDINGS = [
  'encoder-stopped',
  'connection-broke',
  'turned-away',
  'not-allowed-any-more',
  'unreadable',
  'pieces-missing',
  'never-came',
  'did-not-come-back',
  'event-over',
  'shows-something-else',
  'node-stopping',
] as const;
export type SourceEnding = (typeof SOURCE_ENDINGS)[number];

export const SOURCE_REFUSALS = [
  'unknown-key',
  'unknown-application',
  'needs-password',
  'wrong-password',
  'already-sending',
  'video-codec',
  'audio-codec',
  'key-renewed',
  'too-many-tries',
  'wrong-passphrase',
  'unknown-line',
  'line-over',
  'container',
] as const;
export type SourceRefusalReason = (typeof SOURCE_REFUSALS)[number];

export interface JournalEntry {
  readonly journalSeq: number;
  readonly observation: Observation;
}

/** Live figures, once a second: news, not history. */
export interface Figures {
  readonly atMs: number;
  readonly revision: number;
  readonly diskFreeBytes: number;
  readonly disk: DiskState;
  /** How much of its processors is in use, from 0; above 1 work waits. */
  readonly load: number;
  /** What its processor has left for smaller pictures, in cores. */
  readonly sizesRoomCores: number;
  /** What it would have, were none made; `null` from a node that does not say. */
  readonly sizesMostCores: number | null;
  readonly sources: readonly SourceFigures[];
  readonly programmes: readonly ToldProgramme[];
  /** Films that lie on its disk, by their files' ids. */
  readonly films: readonly string[];
}

export interface SourceFigures {
  readonly sourceId: string;
  readonly report: SourceReport;
  readonly pictureTakenAtMs: number | null;
}

export interface ProgrammeFigures {
  readonly programmeId: string;
  readonly sourceId: string | null;
  readonly state: EventLife['state'];
  readonly signal: SignalState;
  readonly viewersHave: ViewersHave['kind'];
  /** What is left of the film that it begins with, while that plays. */
  readonly filmLeftMs: number | null;
  readonly viewers: number;
  /** The same by where they watch, the most first. */
  readonly viewersAt: readonly ViewersAt[];
  readonly keptMs: number;
  readonly recordingStopped: RecordingStop | null;
  readonly sizes: SizesFigures;
  readonly destinations: readonly DestinationFigures[];
}

/** Which smaller pictures are made of a programme, and which are not. */
export interface SizesFigures {
  readonly choice: RenditionChoice;
  readonly making: readonly PlannedRendition[];
  readonly leftOut: Ladder['leftOut'];
  /** Given up for a while, since the machine fell behind. */
  readonly shed: readonly string[];
}

/** How one place takes the programme. */
export interface DestinationFigures {
  readonly destinationId: string;
  readonly state: DestinationState;
  /** What it has taken of late. */
  readonly rateBps: number;
  /** What waits for it. */
  readonly queuedBytes: number;
  /** The smaller picture that it gets; `null`: the original. */
  readonly rendition: string | null;
}

/** What a node reports about a programme. */
export type ToldProgramme = ProgrammeFigures & { readonly faults: readonly Fault[] };

/** Whether viewers have a moving picture, and since when that is so. */
export interface SignalState {
  readonly present: boolean;
  readonly sinceMs: number | null;
}

/** What a node says of itself, first of all. */
export interface NodeSelf {
  /** Where it stands, in words; `null` where nobody said. */
  readonly place: string | null;
  /** Its addresses, where they are set; else its ports on the machine that was asked for. */
  readonly mediaUrl: string | null;
  readonly rtmpUrl: string | null;
  readonly rtmpsUrl: string | null;
  readonly mediaPort: number;
  readonly rtmpPort: number;
  readonly srtFirstPort: number;
}

/** Messages of the control link, `ws(s)://SERVER/control/v1`. The node dials. */
export type NodeMessage =
  /** `journalId` names the journal that its observations are numbered in. */
  | { readonly type: 'here'; readonly self: NodeSelf; readonly journalId: string }
  | { readonly type: 'observed'; readonly entries: readonly JournalEntry[] }
  | { readonly type: 'figures'; readonly figures: Figures };
