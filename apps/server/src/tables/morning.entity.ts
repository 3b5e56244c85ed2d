import { Entity } from 'typeorm';
import { Id, Text } from '../platform/columns.js';

/** The day on which a house last had its letter of the morning. */
@Entity('mornings')
export class MorningEntity {
  @Id() houseId: string;
  @Text(10) toldOn: string;
}
