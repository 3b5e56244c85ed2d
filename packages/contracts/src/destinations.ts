/** A place as the console sees it; the stream name is a secret and never comes back. */
export interface DestinationView {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly host: string;
  readonly port: number;
  readonly application: string;
}

export interface AddDestination {
  readonly name: string;
  /** Pasted whole: `rtmp://host[:port]/application/streamName`. */
  readonly address: string;
}

export type EditDestination = Partial<AddDestination>;

export const DESTINATION_NAME_LENGTH = 60;
