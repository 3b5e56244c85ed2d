import { isSameHave, type ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { Observation } from '@heliphon/core/control/observations';

/** Tells what viewers of a programme have, each change once. */
export class ViewersHaveTeller {
  #told: ViewersHave | null = null;

  constructor(
    private readonly programmeId: string,
    private readonly observe: (observation: Observation) => void,
  ) {}

  get kind(): ViewersHave['kind'] {
    return this.#told?.kind ?? 'nothing';
  }

  tell(have: ViewersHave, atMs: number): void {
    if (this.#told && isSameHave(this.#told, have)) return;
    this.#told = have;
    this.observe({ kind: 'viewers-have', programmeId: this.programmeId, have, atMs });
  }
}
