import type { RtmpScheme } from '@heliphon/core/destinations/rtmp-address';

/** A place as the console sees it; the stream name is a secret and never comes back. */
export interface DestinationView {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly scheme: RtmpScheme;
  readonly host: string;
  readonly port: number;
  readonly application: string;
  /** The name that the place asks for, where it asks. */
  readonly user: string | null;
}

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

export type EditDestination = Partial<AddDestination>;

/** The whole address with its secrets: only on request, and only for who may see keys. */
export interface DestinationAddress {
  readonly address: string;
}

export const DESTINATION_NAME_LENGTH = 60;
