import type { BoxReport } from '@heliphon/core/pairing/device-grant';
import type { PointWay } from './nodes.js';
import type { SourceKey } from './sources.js';

/** An encoder box that was paired. */
export interface BoxView {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** What it calls its kind. */
  readonly model: string;
  readonly sourceId: string;
  readonly pairedAtMs: number;
  readonly lastSeenAtMs: number | null;
  /** Its last word; `null` before the first. */
  readonly report: BoxReport | null;
}

export interface PairBox {
  /** As the box shows it, however it was typed. */
  readonly userCode: string;
  readonly name: string;
  /** `null`: a new source of the box's name. */
  readonly sourceId: string | null;
}

export interface EditBox {
  readonly name?: string;
  readonly sourceId?: string;
}

/** What a box asks for to be paired (RFC 8628, 3.2). */
export interface DeviceAuthorization {
  readonly device_code: string;
  readonly user_code: string;
  readonly verification_uri: string;
  readonly verification_uri_complete: string;
  readonly expires_in: number;
  readonly interval: number;
}

/** What a box is to do: answered to each of its reports. */
export interface BoxOrders {
  readonly name: string;
  readonly sourceName: string;
  readonly connect: SourceKey;
  /** To measure the way to, so that it can say which is the nearest. */
  readonly points: readonly PointWay[];
}

export const BOX_NAME_LENGTH = 60;
