import { Entity } from 'typeorm';
import type { Complaint, PlayerMoment, ViewerFinding } from '@heliphon/contracts/viewer-reports';
import { Id, Instant, Json, Reference, Text } from '../platform/columns.js';

/** What a viewer told of missing picture or sound. */
@Entity('viewer_reports')
export class ViewerReportEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Instant() atMs: number;
  @Text(10) complaint: Complaint;
  @Text(20) finding: ViewerFinding;
  @Text(80) device: string;
  @Json() moments: readonly PlayerMoment[];
}
