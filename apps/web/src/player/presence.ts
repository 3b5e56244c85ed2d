import { randomId } from '../data/random-id.js';
import { countedAddress } from './counted-address.js';
import type { PlayerSource } from './player-state.js';

const EVERY_MS = 10_000;

/** Lets a viewer be counted while they watch, under a name that is forgotten with the page. */
export class Presence {
  readonly viewer = randomId().replaceAll('-', '');
  readonly #timer = window.setInterval(() => this.#tell(), EVERY_MS);

  /** @param watched - what is being watched; `null` while nothing is. */
  constructor(private readonly watched: () => PlayerSource | null) {}

  close(): void {
    window.clearInterval(this.#timer);
  }

  #tell(): void {
    const source = this.watched();
    if (!source) return;
    const address = source.hls.replace(/[^/]*$/, 'beat');
    void fetch(countedAddress(address, this.viewer), { method: 'POST', keepalive: true }).catch(
      () => undefined,
    );
  }
}
