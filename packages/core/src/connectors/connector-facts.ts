/** Who may see a posting, the fewest first. */
export const AUDIENCES = ['only-me', 'friends', 'everyone'] as const;
export type Audience = (typeof AUDIENCES)[number];

export const OUTLET_KINDS = ['wall', 'page', 'group', 'channel'] as const;
export type OutletKind = (typeof OUTLET_KINDS)[number];

/** What a platform is like, as planning and readiness have to know it without knowing the platform. */
export interface ConnectorFacts {
  /** As people know it. */
  readonly name: string;
  readonly outletKinds: readonly OutletKind[];
  /** A posting has to be started before its picture is taken. */
  readonly needsStart: boolean;
  /** It ends a posting when no picture has come for so long; `null`: never. */
  readonly endsWithoutPictureMs: number | null;
  /** It ends a posting after so long, whatever happens; `null`: never. */
  readonly longestMs: number | null;
  /** What it takes in is sent over TLS. */
  readonly isSecure: boolean;
  readonly titleLength: number;
  readonly textLength: number;
  readonly hasComments: boolean;
}

/** Of two limits on who may see a posting, the one that lets fewer see it. */
export const narrower = (one: Audience, other: Audience): Audience =>
  AUDIENCES[Math.min(AUDIENCES.indexOf(one), AUDIENCES.indexOf(other))]!;
