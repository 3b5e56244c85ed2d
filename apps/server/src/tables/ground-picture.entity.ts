import { Column, Entity } from 'typeorm';
import type { Spots } from '@heliphon/core/appearance/ground-picture';
import { Id, Instant, Json, Reference } from '../platform/columns.js';

/** A picture for behind pages, fitted to what screens need, and where words would show worst on it. */
@Entity('ground_pictures')
export class GroundPictureEntity {
  @Id() id: string;
  @Reference() houseId: string;
  /** A JPEG. */
  @Column({ type: 'mediumblob' }) bytes: Buffer;
  @Json() spots: Spots;
  @Instant() createdAtMs: number;
}
