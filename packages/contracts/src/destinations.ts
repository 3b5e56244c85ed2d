import type { RtmpScheme } from '@heliphon/core/destinations/rtmp-address';

interface PlaceCommon {
  readonly id: string;
  readonly version: number;
  readonly name: string;
}

/** With an address of its own; the stream name is a secret and never comes back. */
export interface AddressedPlaceView extends PlaceCommon {
  readonly kind: 'address';
  readonly scheme: RtmpScheme;
  readonly host: string;
  readonly port: number;
  readonly application: string;
  /** The name that the place asks for, where it asks. */
  readonly user: string | null;
}

/** An outlet of a linked account: events are posted there, each with an address of its own. */
export interface OutletPlaceView extends PlaceCommon {
  readonly kind: 'outlet';
  readonly outletId: string;
  /** Events are posted so long before their start; `null`: as soon as they are planned. */
  readonly postAheadHours: number | null;
}

/** A place as the console sees it. */
export type DestinationView = AddressedPlaceView | OutletPlaceView;

/** An address typed in parts; an edit that leaves out a secret keeps the one there is. */
export interface DestinationParts {
  readonly scheme: RtmpScheme;
  readonly host: string;
  readonly port: number | null;
  readonly application: string;
  readonly streamName?: string;
  readonly user: string | null;
  readonly password?: string;
}

/** Either pasted whole, `rtmp[s]://[user:password@]host[:port]/application/streamName`, or in parts. */
export interface AddDestination {
  readonly name: string;
  readonly address?: string;
  readonly parts?: DestinationParts;
}

/** @property postAheadHours - of an outlet alone */
export type EditDestination = Partial<AddDestination & Pick<OutletPlaceView, 'postAheadHours'>>;

/** An event is posted half a year ahead at most, unless at once. */
export const MOST_AHEAD_HOURS = 4380;

/** The whole address with its secrets: only on request, and only for who may see keys. */
export interface DestinationAddress {
  readonly address: string;
}

export const DESTINATION_NAME_LENGTH = 60;
