import { Entity } from 'typeorm';
import { Flag, Id, Instant, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('sources')
export class SourceEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  /** Unique in the installation: it names the source when an encoder shows a name and password. */
  @Text(40) user: string;
  @Text(64) keySha256Hex: string;
  @LongText() sealedKey: string;
  @LongText() sealedPassword: string;
  @Flag() hasPassword: boolean;
  @Text(32) salt: string;
  @Text(32) passwordVerifier: string;
  @Instant() keyRenewedAtMs: number;
  @Version() version: number;
}
