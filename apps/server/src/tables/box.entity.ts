import { Entity } from 'typeorm';
import type { BoxReport, Pairing } from '@heliphon/core/pairing/device-grant';
import { Count, Id, Instant, Json, Reference, Text, Version } from '../platform/columns.js';

@Entity('boxes')
export class BoxEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() sourceId: string;
  @Text(60) name: string;
  @Text(60) model: string;
  /** `null` until the box has fetched its token. */
  @Text(64, { nullable: true }) tokenSha256Hex: string | null;
  @Instant() pairedAtMs: number;
  @Instant({ nullable: true }) lastSeenAtMs: number | null;
  @Json({ nullable: true }) report: BoxReport | null;
  @Version() version: number;
}

/** A code that a box shows and nobody, or somebody, has entered. It belongs to no house before that. */
@Entity('pairings')
export class PairingEntity {
  @Id() id: string;
  @Text(64) deviceCodeSha256Hex: string;
  @Text(9) userCode: string;
  @Text(60) model: string;
  @Text(8) state: Pairing['state'];
  @Reference({ nullable: true }) boxId: string | null;
  @Instant() expiresAtMs: number;
  @Instant({ nullable: true }) lastAskedAtMs: number | null;
  @Count() intervalMs: number;
}
