import { Injectable } from '@nestjs/common';
import type { HappeningEntity } from './entities.js';

/** Tells inside the server what has been committed; push and the desired state listen. */
@Injectable()
export class HappeningFeed {
  readonly #listeners = new Set<(happening: HappeningEntity) => void>();

  listen(listener: (happening: HappeningEntity) => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  tell(happening: HappeningEntity): void {
    for (const listener of this.#listeners) listener(happening);
  }
}
