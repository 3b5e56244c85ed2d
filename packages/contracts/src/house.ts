import type { Capability, Role } from '@heliphon/core/access/capabilities';

export interface SignIn {
  readonly email: string;
  readonly password: string;
}

/** Who is signed in, where, and what they may do. */
export interface SessionView {
  readonly person: { readonly id: string; readonly name: string; readonly email: string };
  readonly house: { readonly id: string; readonly name: string; readonly zone: string };
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

export interface RecordingView {
  readonly id: string;
  readonly eventId: string;
  readonly title: string;
  readonly slug: string;
  readonly posterUrl: string | null;
  readonly airAtMs: number;
  readonly durationMs: number;
  readonly sizeBytes: number;
  readonly keptUntilMs: number;
}
