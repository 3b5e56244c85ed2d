import type { ViewersHave } from '../audience/viewers-have.js';
import type { DestinationState } from '../destinations/destination-state.js';
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
  readonly sources: readonly SourceFigures[];
  readonly programmes: readonly ProgrammeFigures[];
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
  readonly state: EventLife['state'];
  readonly signal: SignalState;
  readonly viewersHave: ViewersHave['kind'];
  /** What is left of the film that it begins with, while that plays. */
  readonly filmLeftMs: number | null;
  readonly viewers: number;
  readonly keptMs: number;
  readonly recordingStopped: RecordingStop | null;
  readonly destinations: readonly { readonly destinationId: string; readonly state: DestinationState }[];
}

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
