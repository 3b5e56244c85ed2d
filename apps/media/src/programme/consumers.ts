import type { TimelineSignal } from '@heliphon/core/media/timeline';
import type { WholeTracks } from '@heliphon/core/media/track';
import type { ProgrammeConsumer } from './programme-consumer.js';

/** Who gets what a programme sends. */
export class Consumers {
  readonly #all = new Set<ProgrammeConsumer>();

  /** @param tracks - of the run that is under way; `null` before the first. @returns its undo */
  add(consumer: ProgrammeConsumer, tracks: WholeTracks | null): () => void {
    this.#all.add(consumer);
    if (tracks) consumer.configure(tracks);
    return () => this.#all.delete(consumer);
  }

  take(signal: TimelineSignal): void {
    for (const consumer of this.#all)
      if (signal.type === 'run-began') consumer.configure(signal.tracks);
      else if (signal.type === 'frame') consumer.frame(signal.frame);
  }
}
