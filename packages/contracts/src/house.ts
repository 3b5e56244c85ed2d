import type { Capability, Role } from '@heliphon/core/access/capabilities';

export interface SignIn {
  readonly email: string;
  readonly password: string;
  /** The second factor, where the person has one. */
  readonly code?: string;
}

/** Who is signed in, where, and what they may do. */
export interface SessionView {
  readonly person: { readonly id: string; readonly name: string; readonly email: string };
  readonly house: { readonly id: string; readonly name: string; readonly zone: string };
  /** Every house this person belongs to; the session acts in one. */
  readonly houses: readonly { readonly id: string; readonly name: string }[];
  readonly hasSecondFactor: boolean;
  readonly roles: readonly Role[];
  readonly capabilities: readonly Capability[];
  readonly serverNowMs: number;
}

/** A counter of visits that a house runs itself, as the line of code says it that the counter hands out. */
export interface VisitCounter {
  readonly scriptUrl: string;
  /** By which the script is told whose visits it counts: `data-site`. */
  readonly attribute: string;
  readonly siteId: string;
}

/** What its public knows of a house. */
export interface PublicHouse {
  readonly name: string;
  readonly zone: string;
  readonly rules: string;
  /** `null` where visits are not counted. */
  readonly visitCounter: VisitCounter | null;
}

/** A house as its people set it. */
export interface HouseView extends PublicHouse {
  readonly id: string;
  readonly version: number;
  /** Which its pages speak, as BCP 47 writes it. */
  readonly language: string;
  /** What viewers read while the picture is away. */
  readonly slateWords: string;
  /** What they hear meanwhile, a file of the house; `null`: nothing. */
  readonly slateSoundId: string | null;
  /** Sizes of smaller pictures beside the usual ones, or with rates of its own for those. */
  readonly ownSizes: readonly OwnSize[];
}

export interface OwnSize {
  readonly heightPx: number;
  readonly videoBitrateBps: number;
}

export interface EditHouse {
  readonly name?: string;
  readonly zone?: string;
  readonly rules?: string;
  readonly language?: string;
  readonly slateWords?: string;
  readonly slateSoundId?: string | null;
  readonly ownSizes?: readonly OwnSize[];
  readonly visitCounter?: VisitCounter | null;
}

/** The house's name, typed out, and one's own password: nothing of it can be had back. */
export interface DeleteHouse {
  readonly name: string;
  readonly password: string;
}

export interface RecordingView {
  readonly id: string;
  readonly eventId: string;
  /** All of an event, or a stretch of it that was saved while it ran. */
  readonly kind: 'whole' | 'clip';
  readonly title: string;
  readonly slug: string;
  readonly posterUrl: string | null;
  readonly airAtMs: number;
  /** 0 for a clip that is still being made. */
  readonly durationMs: number;
  /** How long a slate stood for its picture, and whether the replay shows that. */
  readonly gapsMs: number;
  readonly keepsGaps: boolean;
  readonly sizeBytes: number;
  /** Media nodes at which parts of it still lie, by their places: they are put to it once those are back. */
  readonly awaitedFrom: readonly string[];
  readonly version: number;
  readonly description: string;
  readonly binnedAtMs: number | null;
  /** When the bin lets go of it. */
  readonly goneAtMs: number | null;
}

export interface EditRecording {
  readonly title?: string;
  readonly description?: string;
  readonly keepsGaps?: boolean;
}

/** Where the whole recording can be fetched as one MP4 file, and where its frames are (`frame-<ms>.jpg`). */
export interface RecordingFiles {
  readonly mp4: string;
  readonly frames: string;
  readonly replay: string;
}
