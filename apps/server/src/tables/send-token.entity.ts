import { Entity } from 'typeorm';
import { Id, Instant, LongText, Reference, Text } from '../platform/columns.js';

/** Lets one browser send to a source: that of a member of the house, or of a guest with a link. */
@Entity('sending_lines')
export class SendTokenEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() sourceId: string;
  /** The event that a guest was invited to; `null` for somebody of the house. */
  @Reference({ nullable: true }) eventId: string | null;
  @Text(60) name: string;
  @Text(64, { nullable: true }) linkSha256Hex: string | null;
  @LongText({ nullable: true }) sealedLink: string | null;
  /** What the browser shows to the media node; of a guest's only once the link was opened, by the first who does. */
  @Text(64, { nullable: true }) tokenSha256Hex: string | null;
  @Instant() createdAtMs: number;
  @Instant() endsAtMs: number;
  @Instant({ nullable: true }) claimedAtMs: number | null;
  @Instant({ nullable: true }) withdrawnAtMs: number | null;
}
