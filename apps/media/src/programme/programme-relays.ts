import type { DesiredSource } from '@heliphon/core/control/desired-state';
import { aacConfigBody, aacFrameBody, avcConfigBody, avcFrameBody } from '@heliphon/core/ingest/flv-tags';
import { relayOf } from '@heliphon/core/control/reconcile';
import type { Clock } from '../clock.js';
import type { SourceConnection } from '../ingest/source-connection.js';
import type { SourceRegistry } from '../ingest/source-registry.js';
import type { Programme, ProgrammeFollower } from './programme.js';

/** A programme of this node comes from nowhere else. */
const ORIGIN = { remoteAddress: 'this node', protocol: 'programme' } as const;

interface Relay {
  readonly programme: Programme;
  readonly end: (reason: string) => void;
}

/** Shows programmes that are on air here at the sources that follow them: what viewers get, and only while they do. */
export class ProgrammeRelays {
  readonly #relays = new Map<string, Relay>();

  constructor(
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
  ) {}

  /** Begins and ends relays, so that each source shows what it should. */
  keep(sources: readonly DesiredSource[], programmes: ReadonlyMap<string, Programme>): void {
    const wanted = new Map<string, Programme>();
    for (const { sourceId, followsProgrammeId } of sources) {
      const programme = programmes.get(followsProgrammeId ?? '');
      if (programme?.life.state === 'air') wanted.set(sourceId, programme);
    }
    for (const [sourceId, relay] of this.#relays)
      if (wanted.get(sourceId) !== relay.programme) relay.end('The event that it shows is over');
    for (const [sourceId, programme] of wanted)
      if (!this.#relays.has(sourceId)) this.#begin(sourceId, programme);
  }

  close(): void {
    for (const relay of this.#relays.values()) relay.end('The media node is stopping');
  }

  #begin(sourceId: string, programme: Programme): void {
    const { programmeId } = programme.identity;
    const admission = this.registry.letIn(sourceId, relayOf(programmeId), ORIGIN, () =>
      relay.end('It shows something else'),
    );
    if (!admission.ok) return;
    const { connection } = admission;
    const leave = programme.follow(new RelayedFrames(connection, this.clock));
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

/** A programme's frames as an encoder would send them. */
class RelayedFrames implements ProgrammeFollower {
  constructor(
    private readonly connection: SourceConnection,
    private readonly clock: Clock,
  ) {}

  configure({ video, audio }: Parameters<ProgrammeFollower['configure']>[0]): void {
    if (video) this.#hand('video', 0, avcConfigBody(video.config));
    if (audio) this.#hand('audio', 0, aacConfigBody(audio.config));
  }

  video(atMs: number, frame: Parameters<ProgrammeFollower['video']>[1]): void {
    this.#hand('video', atMs, avcFrameBody(frame));
  }

  audio(atMs: number, { data }: Parameters<ProgrammeFollower['audio']>[1]): void {
    this.#hand('audio', Math.max(0, atMs), aacFrameBody(data));
  }

  #hand(kind: 'video' | 'audio', timestampMs: number, payload: Uint8Array): void {
    this.connection.media({ kind, timestampMs, payload }, this.clock.monotonicMs());
  }
}
