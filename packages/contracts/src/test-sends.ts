import type { DestinationReason } from '@heliphon/core/destinations/destination-state';
import type { PostingTrouble } from './postings.js';

/** How trying out a place went: it took the picture, there was none to send, or what was in the way. */
export type TestSendResult = 'taken' | 'no-picture' | 'broken-off' | DestinationReason | PostingTrouble;

/** A place that a rehearsal tries out. */
export interface TestSendView {
  readonly destinationId: string;
  /** `null` while it is being tried. */
  readonly result: TestSendResult | null;
}

/** A place of the event that is rehearsed. */
export interface BeginTestSend {
  readonly destinationId: string;
}

/** So long a place has to take the picture. */
export const TEST_SEND_MS = 10_000;
