import { Entity } from 'typeorm';
import { Id, Json, Reference, Text, Version } from '../platform/columns.js';

/** Places under one name; some of them may be gone meanwhile. */
@Entity('place_sets')
export class PlaceSetEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  @Json() destinationIds: string[];
  @Version() version: number;
}
