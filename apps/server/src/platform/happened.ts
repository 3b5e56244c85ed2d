import type { HappeningEntity } from './entities.js';
import type { Topic } from './shared/fan-out.js';

/** Told of everything that was written down, once it is committed; push and the desired state listen. */
export const HAPPENED: Topic<HappeningEntity> = { name: 'happened' };
