import { Entity } from 'typeorm';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import type { SourceKind } from '@heliphon/core/ingest/source-kinds';
import { Count, Flag, Id, Instant, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('sources')
export class SourceEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  @Text(10, { default: 'device' }) kind: SourceKind;
  /** Whose programme it shows: an event's, or whatever is on in a series. */
  @Reference({ nullable: true }) followsEventId: string | null;
  @Reference({ nullable: true }) followsSeriesId: string | null;
  /** The film that it plays once. */
  @Reference({ nullable: true }) fileId: string | null;
  /** Which of the ports for SRT is its own; `null` where it is not reached over SRT. */
  @Count({ nullable: true }) srtSlot: number | null;
  @LongText({ nullable: true }) sealedPassphrase: string | null;
  @Count({ default: SRT_LIMITS.latencyMs.usual }) srtLatencyMs: number;
  /** What its way to us was measured to carry. */
  @Count({ nullable: true }) adviceUploadBps: number | null;
  @Instant({ nullable: true }) adviceMeasuredAtMs: number | null;
  /** The picture that was chosen for it; the safe one where nobody chose. */
  @Text(10, { nullable: true }) adviceSize: string | null;
  /** The ingest point chosen for it; `null` where nobody chose. */
  @Text(60, { nullable: true }) nodeId: string | null;
  /** Unique in the installation: it names the source when an encoder shows a name and password. */
  @Text(40) user: string;
  @Text(64) keySha256Hex: string;
  @LongText() sealedKey: string;
  @LongText() sealedPassword: string;
  @Flag() hasPassword: boolean;
  @Text(32) salt: string;
  @Text(32) passwordVerifier: string;
  @Instant() keyRenewedAtMs: number;
  @Instant({ nullable: true }) lastSeenAtMs: number | null;
  @Version() version: number;
}
