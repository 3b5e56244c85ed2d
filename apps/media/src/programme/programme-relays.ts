import type { SourceEnding } from '@heliphon/core/control/observations';
import type { DesiredSource } from '@heliphon/core/control/desired-state';
import { relayOf } from '@heliphon/core/control/reconcile';
import type { Frame } from '@heliphon/core/media/frame';
import type { WholeTracks } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import type { WantKeeper } from '../control/want-keeper.js';
import type { SourceConnection } from '../ingest/source-connection.js';
import type { SourceRegistry } from '../ingest/source-registry.js';
import type { Programme } from './programme.js';
import type { ProgrammeConsumer } from './programme-consumer.js';

/** A programme of this node comes from nowhere else. */
const ORIGIN = { remoteAddress: 'this node', protocol: 'programme' } as const;

interface WantedRelays {
  readonly sources: readonly DesiredSource[];
  readonly programmes: ReadonlyMap<string, Programme>;
}

interface Relay {
  readonly programme: Programme;
  readonly end: (reason: SourceEnding) => void;
}

/** Shows programmes that are on air here at the sources that follow them: what viewers get, and only while they do. */
export class ProgrammeRelays implements WantKeeper<WantedRelays, ReadonlySet<string>> {
  readonly #relays = new Map<string, Relay>();

  constructor(
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
  ) {}

  /** Begins and ends relays, so that each source shows what it should. */
  apply({ sources, programmes }: WantedRelays): void {
    const wanted = new Map<string, Programme>();
    for (const { sourceId, followsProgrammeId } of sources) {
      const programme = programmes.get(followsProgrammeId ?? '');
      if (programme?.life.state === 'air') wanted.set(sourceId, programme);
    }
    for (const [sourceId, relay] of this.#relays)
      if (wanted.get(sourceId) !== relay.programme) relay.end('event-over');
    for (const [sourceId, programme] of wanted)
      if (!this.#relays.has(sourceId)) this.#begin(sourceId, programme);
  }

  /** Sources that show a programme. */
  facts(): ReadonlySet<string> {
    return new Set(this.#relays.keys());
  }

  stop(): void {
    for (const relay of this.#relays.values()) relay.end('node-stopping');
  }

  #begin(sourceId: string, programme: Programme): void {
    const { programmeId } = programme.identity;
    const admission = this.registry.letIn(sourceId, relayOf(programmeId), ORIGIN, () =>
      relay.end('shows-something-else'),
    );
    if (!admission.ok) return;
    const { connection } = admission;
    const leave = programme.consume(new Relayed(connection, this.clock));
    const relay: Relay = {
      programme,
      end: (reason) => {
        if (!this.#relays.delete(sourceId)) return;
        leave();
        this.registry.gone(connection, reason);
      },
    };
    this.#relays.set(sourceId, relay);
  }
}

/** Hands a programme's frames to a source, as if an encoder sent them. */
class Relayed implements ProgrammeConsumer {
  constructor(
    private readonly connection: SourceConnection,
    private readonly clock: Clock,
  ) {}

  configure({ video, audio }: WholeTracks): void {
    const nowMs = this.clock.monotonicMs();
    this.connection.take({ type: 'video-configured', track: video }, nowMs);
    this.connection.take({ type: 'audio-configured', track: audio }, nowMs);
  }

  frame(frame: Frame): void {
    this.connection.take({ type: 'frame', frame }, this.clock.monotonicMs());
  }
}
