import { Entity } from 'typeorm';
import { Id, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('channels')
export class ChannelEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  @Text(100) slug: string;
  @LongText() description: string;
  @Version() version: number;
}
