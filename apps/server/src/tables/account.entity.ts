import { Entity } from 'typeorm';
import type { Audience, OutletKind } from '@heliphon/core/connectors/connector-facts';
import { Flag, Id, Instant, LongText, Reference, Text } from '../platform/columns.js';

/** Somebody's account at a platform, by whose consent a house posts there. */
@Entity('accounts')
export class AccountEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(20) platform: string;
  @Text(100) idThere: string;
  @Text(200) name: string;
  @Text(10, { nullable: true }) audience: Audience | null;
  @LongText() sealedAccessToken: string;
  @LongText() sealedRefreshToken: string;
  @Instant() accessEndsAtMs: number;
  @Instant() consentEndsAtMs: number;
  /** Since when the consent is good for nothing. */
  @Instant({ nullable: true }) endedAtMs: number | null;
  /** Until when one server alone refreshes its tokens. */
  @Instant({ nullable: true }) claimedUntilMs: number | null;
  /** When the platform said last what it has. */
  @Instant({ nullable: true }) lookedAtMs: number | null;
  /** What its house was last written to about. */
  @Text(200, { nullable: true }) toldTrouble: string | null;
}

/** Where an account may post. */
@Entity('outlets')
export class OutletEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() accountId: string;
  @Text(100) idThere: string;
  @Text(10) kind: OutletKind;
  @Text(200) name: string;
  @Flag() isChosen: boolean;
  @Flag() hasLetIn: boolean;
  /** The consent covers it, and the platform has it. */
  @Flag() isThere: boolean;
}

/** A question that somebody's browser was sent to a platform with, and has not come back from. */
@Entity('consent_asks')
export class ConsentAskEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() personId: string;
  @Text(20) platform: string;
  /** The account that is linked again; `null` for a new one. */
  @Reference({ nullable: true }) accountId: string | null;
  @Text(64) stateSha256Hex: string;
  @LongText() sealedVerifier: string;
  @Instant() expiresAtMs: number;
}
