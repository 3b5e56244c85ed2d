import { Entity } from 'typeorm';
import { Count, Id, Reference, Text } from '../platform/columns.js';

/** A stretch of a programme at a node that it has left: there its recording lies until it is joined to the rest. */
@Entity('programme_legs')
export class LegEntity {
  @Id() programmeId: string;
  @Count({ primary: true }) leg: number;
  @Reference() houseId: string;
  @Text(60) nodeId: string;
}
