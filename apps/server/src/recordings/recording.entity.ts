import { Entity } from 'typeorm';
import { Big, Count, Id, Instant, Reference } from '../platform/columns.js';

@Entity('recordings')
export class RecordingEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Reference() programmeId: string;
  @Instant() airAtMs: number;
  @Count() durationMs: number;
  @Big() sizeBytes: number;
  @Instant() keptUntilMs: number;
}
