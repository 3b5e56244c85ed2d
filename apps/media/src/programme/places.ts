import type { DesiredDestination } from '@heliphon/core/control/desired-state';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { Frame } from '@heliphon/core/media/frame';
import type { WholeTracks } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import { DestinationSender } from '../destinations/destination-sender.js';
import type { ProgrammeConsumer } from './programme-consumer.js';

/** The places that a programme is sent to; trouble at one never affects another. */
export class Places implements ProgrammeConsumer {
  readonly #senders = new Map<string, DestinationSender>();

  constructor(private readonly clock: Clock) {}

  get addresses(): readonly DesiredDestination[] {
    return [...this.#senders].map(([destinationId, { address }]) => ({ destinationId, address }));
  }

  get states(): readonly { readonly destinationId: string; readonly state: DestinationState }[] {
    return [...this.#senders].map(([destinationId, { state }]) => ({ destinationId, state }));
  }

  /** @param tracks - of the run that goes on; `null` while none does. */
  start({ destinationId, address }: DesiredDestination, tracks: WholeTracks | null): void {
    const sender = new DestinationSender(address, this.clock);
    this.#senders.set(destinationId, sender);
    if (tracks) sender.configure(tracks);
  }

  async stop(destinationId: string): Promise<void> {
    const sender = this.#senders.get(destinationId);
    this.#senders.delete(destinationId);
    await sender?.stop();
  }

  async close(): Promise<void> {
    await Promise.all([...this.#senders.keys()].map((destinationId) => this.stop(destinationId)));
  }

  configure(tracks: WholeTracks): void {
    for (const sender of this.#senders.values()) sender.configure(tracks);
  }

  frame(frame: Frame): void {
    for (const sender of this.#senders.values()) sender.frame(frame);
  }
}
