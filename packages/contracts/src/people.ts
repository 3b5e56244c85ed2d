import type { Capability, Role } from '@heliphon/core/access/capabilities';

/** Somebody of a house. */
export interface PersonView {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly roles: readonly Role[];
  readonly hasSecondFactor: boolean;
}

export interface InvitationView {
  readonly id: string;
  readonly email: string;
  readonly name: string;
  readonly roles: readonly Role[];
  readonly expiresAtMs: number;
}

/** Which letters somebody wants of a house. */
export interface OwnLetters {
  readonly morning: boolean;
}

export interface InvitePerson {
  readonly email: string;
  readonly name: string;
  readonly roles: readonly Role[];
}

export interface EditPerson {
  readonly roles: readonly Role[];
}

/** What somebody who follows a link sees before they accept. */
export interface OpenedInvitation {
  readonly kind: 'join' | 'reset';
  readonly houseName: string;
  readonly email: string;
  readonly name: string;
  /** `false` for somebody who signs in elsewhere in this installation already. */
  readonly needsPassword: boolean;
}

export interface AcceptInvitation {
  readonly name?: string;
  readonly password?: string;
}

/** A browser in which somebody is signed in. */
export interface SessionEntry {
  readonly id: string;
  readonly device: string;
  readonly createdAtMs: number;
  readonly lastUsedAtMs: number | null;
  readonly isThisOne: boolean;
}

/** A personal access token; its secret is told once. `scopes` of `null`: whatever its person may do. */
export interface TokenEntry {
  readonly id: string;
  readonly name: string;
  readonly scopes: readonly Capability[] | null;
  readonly createdAtMs: number;
  readonly expiresAtMs: number;
  readonly lastUsedAtMs: number | null;
}

export interface MakeToken {
  readonly name: string;
  readonly scopes: readonly Capability[] | null;
  readonly days: number;
}

export interface MadeToken {
  readonly token: TokenEntry;
  readonly secret: string;
}

/** A second factor in the making (RFC 6238): shown until it is confirmed by a first code. */
export interface SecondFactorOffer {
  readonly secret: string;
  readonly uri: string;
}

export const PASSWORD_LENGTH = { least: 12, most: 200 } as const;
export const TOKEN_DAYS = { usual: 90, most: 730 } as const;
