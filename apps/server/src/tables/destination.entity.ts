import { Entity } from 'typeorm';
import type { RtmpScheme } from '@heliphon/core/destinations/rtmp-address';
import { Count, Id, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('destinations')
export class DestinationEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  /** An outlet of a linked account, at which each event has an address of its own; `null`: its own address follows. */
  @Reference({ nullable: true }) outletId: string | null;
  /** An outlet has a posting so long before the event starts; `null`: as soon as it is planned. */
  @Count({ nullable: true }) postAheadHours: number | null;
  @Text(5, { nullable: true }) scheme: RtmpScheme | null;
  @Text(255, { nullable: true }) host: string | null;
  @Count({ nullable: true }) port: number | null;
  @Text(255, { nullable: true }) application: string | null;
  @LongText({ nullable: true }) sealedStreamName: string | null;
  /** Name and password as JSON, for places that ask for them. */
  @LongText({ nullable: true }) sealedLogin: string | null;
  @Version() version: number;
}

/** A place that has an address of its own. */
export type AddressedPlace = DestinationEntity & {
  [K in 'scheme' | 'host' | 'port' | 'application' | 'sealedStreamName']: NonNullable<DestinationEntity[K]>;
};

export const isAddressed = (row: DestinationEntity): row is AddressedPlace => row.outletId === null;
