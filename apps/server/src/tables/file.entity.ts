import { Entity } from 'typeorm';
import type { FileKind, FileRefusal, FileState } from '@heliphon/core/files/file-kinds';
import type { FileFacts } from '@heliphon/contracts/files';
import { Big, Count, Id, Instant, Json, Reference, Text, Version } from '../platform/columns.js';

@Entity('files')
export class FileEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(120) name: string;
  @Text(8, { nullable: true }) kind: FileKind | null;
  @Text(8) state: FileState;
  @Text(30, { nullable: true }) refusal: FileRefusal | null;
  @Big() sizeBytes: number;
  @Json({ nullable: true }) facts: FileFacts | null;
  @Count() madePercent: number;
  /** The server that is making it renews its claim; once that has run out another may take over. */
  @Instant({ nullable: true }) claimedUntilMs: number | null;
  @Instant() addedAtMs: number;
  @Instant({ nullable: true }) binnedAtMs: number | null;
  @Version() version: number;
}
