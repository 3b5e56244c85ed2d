import { Entity } from 'typeorm';
import { Count, Id, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('destinations')
export class DestinationEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  @Text(255) host: string;
  @Count() port: number;
  @Text(255) application: string;
  @LongText() sealedStreamName: string;
  @Version() version: number;
}
