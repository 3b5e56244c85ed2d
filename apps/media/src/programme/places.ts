import type { DesiredDestination } from '@heliphon/core/control/desired-state';
import type { DestinationFigures } from '@heliphon/core/control/observations';
import type { Frame } from '@heliphon/core/media/frame';
import type { WholeTracks } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import { DestinationSender } from '../destinations/destination-sender.js';

/** What a place is fed with: the original (`null`), or a smaller picture. */
type Feed = string | null;

interface Place {
  readonly sender: DestinationSender;
  /** What was asked for. */
  rendition: Feed;
  /** What it gets; `undefined` while that is on its way. */
  feed: Feed | undefined;
}

/** The places that a programme is sent to; trouble at one never affects another. */
export class Places {
  readonly #places = new Map<string, Place>();
  /** Of the runs that are under way. */
  readonly #tracks = new Map<Feed, WholeTracks>();

  /** @param feedFor - what a place gets that asked for a smaller picture: another, where that is not made. */
  constructor(
    private readonly clock: Clock,
    private readonly mayBeInner: boolean,
    private readonly feedFor: (rendition: Feed) => Feed | undefined,
  ) {}

  get addresses(): readonly DesiredDestination[] {
    return [...this.#places].map(([destinationId, { sender, rendition }]) => ({
      destinationId,
      address: sender.address,
      rendition,
    }));
  }

  get figures(): readonly DestinationFigures[] {
    return [...this.#places].map(([destinationId, { sender, feed }]) => ({
      destinationId,
      state: sender.state,
      rateBps: sender.rateBps,
      queuedBytes: sender.queuedBytes,
      rendition: feed ?? null,
    }));
  }

  start({ destinationId, address, rendition }: DesiredDestination): void {
    const sender = new DestinationSender(address, this.clock, this.mayBeInner);
    const place: Place = { sender, rendition, feed: undefined };
    this.#places.set(destinationId, place);
    this.#feed(place);
  }

  /** Another size from its next keyframe on; nobody else notices. */
  choose(destinationId: string, rendition: string | null): void {
    const place = this.#places.get(destinationId);
    if (!place) return;
    place.rendition = rendition;
    this.#feed(place);
  }

  async stop(destinationId: string): Promise<void> {
    const place = this.#places.get(destinationId);
    this.#places.delete(destinationId);
    await place?.sender.stop();
  }

  async close(): Promise<void> {
    await Promise.all([...this.#places.keys()].map((destinationId) => this.stop(destinationId)));
  }

  /** Other sizes are made now: each place gets what comes nearest to its wish. */
  feedAll(): void {
    for (const place of this.#places.values()) this.#feed(place);
  }

  configure(feed: Feed, tracks: WholeTracks): void {
    this.#tracks.set(feed, tracks);
    for (const place of this.#places.values()) if (place.feed === feed) place.sender.configure(tracks);
  }

  frame(feed: Feed, frame: Frame): void {
    for (const place of this.#places.values()) if (place.feed === feed) place.sender.frame(frame);
  }

  #feed(place: Place): void {
    const feed = this.feedFor(place.rendition);
    // What it has goes on until it is known what it gets.
    if (feed === undefined || feed === place.feed) return;
    place.feed = feed;
    const tracks = this.#tracks.get(feed);
    if (tracks) place.sender.configure(tracks);
  }
}
