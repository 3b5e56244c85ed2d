import { Entity } from 'typeorm';
import type { RtmpScheme } from '@heliphon/core/destinations/rtmp-address';
import { Count, Id, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('destinations')
export class DestinationEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  @Text(5) scheme: RtmpScheme;
  @Text(255) host: string;
  @Count() port: number;
  @Text(255) application: string;
  @LongText() sealedStreamName: string;
  /** Name and password as JSON, for places that ask for them. */
  @LongText({ nullable: true }) sealedLogin: string | null;
  @Version() version: number;
}
