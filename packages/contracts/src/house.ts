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

/** How a house looks to its public; colours become CSS variables of its pages. */
export interface HouseLook {
  readonly name: string;
  readonly zone: string;
  readonly logoSvg: string | null;
  readonly accent: string;
  readonly accentWarm: string;
  readonly rules: string;
}

/** A house as its people set it. */
export interface HouseView extends HouseLook {
  readonly id: string;
  readonly version: number;
  /** What viewers read while the picture is away. */
  readonly slateWords: string;
}

export interface EditHouse {
  readonly name?: string;
  readonly zone?: string;
  readonly rules?: string;
  readonly accent?: string;
  readonly accentWarm?: string;
  readonly slateWords?: string;
}

/** The house's name, typed out, and one's own password: nothing of it can be had back. */
export interface DeleteHouse {
  readonly name: string;
  readonly password: string;
}

export interface RecordingView {
  readonly id: string;
  readonly eventId: string;
  readonly title: string;
  readonly slug: string;
  readonly posterUrl: string | null;
  readonly airAtMs: number;
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
