import type { GrantTurns } from '../access/guarded-grant.js';
import type { ClipRange } from '../packaging/clip-range.js';
import type { RenditionChoice } from '../ladder/renditions.js';
import type { DesiredFilm } from './film.js';
import type { CommandKind, EventLife, EventPlan } from '../schedule/event-life.js';

/** The whole of what a media node should be doing: one versioned document, made by the server, kept by the node. */
export interface DesiredState {
  readonly revision: number;
  readonly issuedAtMs: number;
  /** What the server's clock adds to the system's; not zero only under test. */
  readonly clockOffsetMs: number;
  readonly grantKeys: readonly { readonly keyId: string; readonly secretBase64: string }[];
  readonly sources: readonly DesiredSource[];
  readonly programmes: readonly DesiredProgramme[];
  /** Programmes whose recording lies in the bin: the public gets nothing of them. */
  readonly binnedRecordings: readonly string[];
  /** Programmes whose replay only some may see, though everybody saw them live: not by grants from then. */
  readonly guardedReplays: readonly string[];
  /** Of houses in which fewer may watch than before, by their ids. */
  readonly grantTurns: Readonly<Record<string, GrantTurns>>;
  /** Programmes whose replay shows the slate where it stood. */
  readonly recordingsWithGaps: readonly string[];
  /** Recordings deleted for good: taken off the disk, and reported once they are. */
  readonly removedRecordings: readonly { readonly programmeId: string; readonly houseId: string }[];
  /** Programmes that run at another node: closed here, whatever they are doing. */
  readonly elsewhere: readonly string[];
  readonly joins: readonly DesiredJoin[];
  /** Clips to be cut of programmes that are here. */
  readonly clips: readonly DesiredClip[];
}

/** A stretch of a programme that is to become a separate recording. */
export interface DesiredClip extends ClipRange {
  /** By which it is played, as if it were a programme. */
  readonly clipId: string;
  readonly houseId: string;
  /** What it is cut from. */
  readonly programmeId: string;
}

/** What another node has of a recording of ours, to be fetched and put to it. */
export interface DesiredJoin {
  readonly programmeId: string;
  readonly houseId: string;
  readonly nodeId: string;
  /** Of the programme at that node, with a grant: a secret. */
  readonly address: string;
}

export interface DesiredSource {
  readonly sourceId: string;
  /** Names the source when an encoder shows a name and password. */
  readonly user: string;
  readonly keySha256Hex: string;
  /** `null` where the key alone opens. */
  readonly password: { readonly salt: string; readonly verifier: string } | null;
  /** By which browsers may send, until when: each is the hash of a token. */
  readonly lines: readonly { readonly sha256Hex: string; readonly untilMs: number }[];
  /** By which port and passphrase it is reached over SRT; `null` where it is not. */
  readonly srt: { readonly slot: number; readonly passphrase: string; readonly latencyMs: number } | null;
  /** The programme that it shows, where it is another event's. */
  readonly followsProgrammeId: string | null;
  readonly grantsValidFromMs: number;
}

export interface DesiredProgramme {
  readonly programmeId: string;
  readonly houseId: string;
  readonly sourceId: string | null;
  /** A second source that can take over; `null` where there is none. */
  readonly standby: DesiredStandby | null;
  readonly plan: EventPlan;
  /** The last command given by hand; applied once. */
  readonly command: { readonly commandId: string; readonly kind: CommandKind; readonly atMs: number } | null;
  readonly rewindWindowMs: number;
  /** What stands in for its picture; `null` from a server that knows of none. */
  readonly slate: DesiredSlate | null;
  /** Which smaller pictures are made of it. */
  readonly renditions: RenditionChoice;
  /** They stay for the replay. */
  readonly keepsRenditions: boolean;
  /** What it was when it came here from another node; `null` where it began here. */
  readonly takenOver: TakenOver | null;
  /** What it begins with; `null`: with its source. */
  readonly film: DesiredFilm | null;
  readonly grantsValidFromMs: Readonly<Record<'public' | 'desk', number>>;
  readonly destinations: readonly DesiredDestination[];
}

/** A source that stands by for another. */
export interface DesiredStandby {
  readonly sourceId: string;
  /** It takes over once the other has sent nothing for this long; `null`: only by hand. */
  readonly afterMs: number | null;
  /** Chosen by hand: it feeds the programme whenever it can, and the first stands by for it. */
  readonly isPreferred: boolean;
}

/** What viewers see while a picture is away. */
export interface DesiredSlate {
  /** No picture for so long, and it stands in. */
  readonly awayAfterMs: number;
  /** Stills by their content: before the first picture, and after it. */
  readonly stillIds: { readonly coming: string; readonly back: string };
  /** A file that is heard meanwhile, over and over; `null`: silence. */
  readonly sound: { readonly fileId: string; readonly sizeBytes: number } | null;
}

export interface TakenOver {
  /** Counts the nodes it has been at. */
  readonly leg: number;
  readonly life: EventLife;
  /** When the node that had it was last heard; `null` from a server that does not know. */
  readonly lastHeardMs: number | null;
}

export interface DesiredDestination {
  readonly destinationId: string;
  /** Whole, with its key: a secret. */
  readonly address: string;
  /** The smaller picture that it gets, by its name; `null`: the original. */
  readonly rendition: string | null;
}

export const NO_DESIRED_STATE: DesiredState = {
  revision: 0,
  issuedAtMs: 0,
  clockOffsetMs: 0,
  grantKeys: [],
  sources: [],
  programmes: [],
  binnedRecordings: [],
  guardedReplays: [],
  grantTurns: {},
  recordingsWithGaps: [],
  removedRecordings: [],
  elsewhere: [],
  joins: [],
  clips: [],
};

export type ServerMessage =
  | { readonly type: 'desired'; readonly state: DesiredState }
  | { readonly type: 'stored'; readonly journalSeq: number }
  /** Tell once more of everything that is over and kept. */
  | { readonly type: 'tell-anew' };
