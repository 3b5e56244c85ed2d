import { Column, Entity } from 'typeorm';
import { Count, Id, Instant } from '../platform/columns.js';

/** What a source sent in one minute, on average. */
@Entity('signal_minutes')
export class SignalMinuteEntity {
  @Id() sourceId: string;
  @Instant({ primary: true }) atMs: number;
  @Count() bitrateBps: number;
  @Column({ type: 'float' }) frameRateFps: number;
  @Column({ type: 'float', nullable: true }) shortTermLufs: number | null;
}
