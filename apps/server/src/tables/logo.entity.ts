import { Column, Entity } from 'typeorm';
import { Id, Instant, Reference, Text } from '../platform/columns.js';

/** A logo, fitted to what pages need: small enough to lie with the look that shows it. */
@Entity('logos')
export class LogoEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(20) type: 'image/png' | 'image/svg+xml';
  @Column({ type: 'mediumblob' }) bytes: Buffer;
  @Instant() createdAtMs: number;
}
