import { Entity } from 'typeorm';
import { Id, Instant, Text } from '../platform/columns.js';

/** A house that was deleted, and who is to hear once nothing of it is left. */
@Entity('farewells')
export class FarewellEntity {
  @Id() houseId: string;
  @Text(120) houseName: string;
  @Text(254) email: string;
  @Text(120) name: string;
  @Instant() atMs: number;
}
