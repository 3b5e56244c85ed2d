import { type Admission, type Arrival, StreamReceiver } from './stream-receiver.js';

/** How a platform treats a stream: takes it, refuses its key, takes the connection and reads nothing, or hangs up after a while. */
export const PLATFORM_MODES = ['accept', 'refuse', 'stall', 'close'] as const;
const CLOSE_AFTER_MS = 5000;
export type PlatformMode = (typeof PLATFORM_MODES)[number];

export interface ReceivedStream extends Arrival {
  readonly streamName: string;
  readonly mode: PlatformMode;
}

/** A place with a plain address: takes the programme over RTMP, whatever its name, and shows what came. */
export class PlatformStandIn {
  readonly #modes = new Map<string, PlatformMode>();
  readonly #receiver = new StreamReceiver((streamName) => ADMISSIONS[this.#modeOf(streamName)]);

  listen(port: number, host: string): Promise<void> {
    return this.#receiver.listen(port, host);
  }

  close(): Promise<void> {
    return this.#receiver.close();
  }

  get streams(): ReceivedStream[] {
    return this.#receiver.streamNames.map((streamName) => ({
      streamName,
      mode: this.#modeOf(streamName),
      ...this.#receiver.arrivalOf(streamName),
    }));
  }

  /** From now on; a stream that is live is cut off, so that the sender meets the new mode. */
  setMode(streamName: string, mode: PlatformMode): void {
    this.#modes.set(streamName, mode);
    this.#receiver.cut(streamName);
  }

  frameNumber(streamName: string): Promise<number | null> {
    return this.#receiver.frameNumber(streamName);
  }

  picture(streamName: string): Promise<Buffer | null> {
    return this.#receiver.picture(streamName);
  }

  #modeOf(streamName: string): PlatformMode {
    return this.#modes.get(streamName) ?? 'accept';
  }
}

const ADMISSIONS: Readonly<Record<PlatformMode, Admission>> = {
  accept: { isTaken: true, reads: true, closesAfterMs: null },
  refuse: { isTaken: false, words: 'This key is not valid any more' },
  stall: { isTaken: true, reads: false, closesAfterMs: null },
  close: { isTaken: true, reads: true, closesAfterMs: CLOSE_AFTER_MS },
};
