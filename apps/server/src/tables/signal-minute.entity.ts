import { Entity } from 'typeorm';
import type { SignalSample } from '@heliphon/core/signal/signal-sample';
import { Id, Instant, Json, Reference } from '../platform/columns.js';

/** What an event's source sent in one minute. */
@Entity('signal_minutes')
export class SignalMinuteEntity {
  @Id() eventId: string;
  @Instant({ primary: true }) atMs: number;
  @Reference() houseId: string;
  @Json() summary: SignalSample;
  /** Second by second, as `packed` has it; `null` once they are too old. */
  @Json({ nullable: true }) seconds: (number | null)[][] | null;
}
