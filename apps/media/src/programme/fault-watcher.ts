import type { Observation, ProgrammeFigures, SourceFigures } from '@heliphon/core/control/observations';
import type { Fault } from '@heliphon/core/faults/fault';
import type { FaultFacts } from '@heliphon/core/faults/fault-rules';
import {
  endFaults,
  type FaultWatch,
  NOTHING_WATCHED,
  openFaults,
  watchFaults,
} from '@heliphon/core/faults/fault-watch';
import { SIGNAL_GONE_AFTER_MS } from '@heliphon/core/signal/source-report';
import type { Clock } from '../clock.js';
import type { SourceRegistry } from '../ingest/source-registry.js';
import type { Programme } from './programme.js';

/** Finds what is wrong with the programmes that are on air, once a second, and tells each beginning and end once. */
export class FaultWatcher {
  readonly #watches = new Map<string, FaultWatch>();

  constructor(
    private readonly clock: Clock,
    private readonly registry: SourceRegistry,
    private readonly observe: (observation: Observation) => void,
  ) {}

  /** What is wrong with a programme now. */
  openOf(programmeId: string): readonly Fault[] {
    const watch = this.#watches.get(programmeId);
    return watch ? openFaults(watch) : [];
  }

  /**
   * @param sources - as the figures have them.
   * @param load - of this node's processors.
   */
  look(programmes: ReadonlyMap<string, Programme>, sources: readonly SourceFigures[], load: number): void {
    for (const [programmeId, watch] of this.#watches) {
      const programme = programmes.get(programmeId);
      if (programme?.life.state === 'air') continue;
      this.#watches.delete(programmeId);
      // One that was closed without an end goes on at another node, which sees for itself.
      if (programme) this.#tell(programmeId, endFaults(watch));
    }
    for (const [programmeId, programme] of programmes) {
      const { life } = programme;
      if (life.state !== 'air') continue;
      const facts = { ...this.#factsOf(programme, sources), airAtMs: life.airAtMs, load };
      const { watch, changed } = watchFaults(this.#watches.get(programmeId) ?? NOTHING_WATCHED, facts);
      this.#watches.set(programmeId, watch);
      this.#tell(programmeId, changed);
    }
  }

  #factsOf(programme: Programme, sources: readonly SourceFigures[]): Omit<FaultFacts, 'airAtMs' | 'load'> {
    const { viewersHave, viewers, destinations, recordingStopped, sizes }: ProgrammeFigures =
      programme.figures();
    const { awayAfterMs, takenUp } = programme;
    const { sourceId: firstId, feedingId, turn } = programme.sources;
    const source = (sourceId: string): NonNullable<FaultFacts['source']> => {
      const connection = this.registry.connectionOf(sourceId);
      const silentMs = connection?.meter.silentMs(this.clock.monotonicMs()) ?? Infinity;
      return {
        sourceId,
        isAway: silentMs >= (awayAfterMs ?? SIGNAL_GONE_AFTER_MS),
        ending: this.registry.endingOf(sourceId),
        report: sources.find((known) => known.sourceId === sourceId)?.report ?? null,
      };
    };
    return {
      nowMs: this.clock.nowMs(),
      source: feedingId === null ? null : source(feedingId),
      replaced: firstId === null || firstId === feedingId ? null : source(firstId),
      turn:
        turn && !turn.isByHand && turn.toId !== firstId
          ? { toId: turn.toId, agoMs: Math.round(this.clock.monotonicMs() - turn.atMs) }
          : null,
      takenUp,
      viewersHave,
      viewers,
      destinations,
      recordingStopped,
      shedSizes: sizes.shed,
    };
  }

  #tell(programmeId: string, faults: readonly Fault[]): void {
    for (const fault of faults) this.observe({ kind: 'fault', programmeId, fault, atMs: this.clock.nowMs() });
  }
}
