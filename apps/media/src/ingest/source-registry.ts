import { createHash, randomUUID } from 'node:crypto';
import { expectedResponse, type AuthQuery } from '@heliphon/core/ingest/encoder-auth';
import type { DesiredSource } from '@heliphon/core/control/desired-state';
import type { Observation, SourceRefusalReason } from '@heliphon/core/control/observations';
import { type Bucket, isFull, takeToken, TRYING_RULE } from '@heliphon/core/access/token-bucket';
import type { ActualConnection } from '@heliphon/core/control/reconcile';
import type { Clock } from '../clock.js';
import { type ConnectionOrigin, SourceConnection } from './source-connection.js';

export type Admission =
  | { readonly ok: true; readonly connection: SourceConnection }
  | { readonly ok: false; readonly reason: SourceRefusalReason };

const OPAQUE_LIFE_MS = 60_000;
const MAX_OPAQUES = 1000;

const sha256Hex = (text: string): string => createHash('sha256').update(text).digest('hex');
export const md5Base64 = (text: string): string => createHash('md5').update(text).digest('base64');

/** Knows which sources may connect, which are connected, and who listens to them. */
export class SourceRegistry {
  #sources: readonly DesiredSource[] = [];
  readonly #connections = new Map<string, SourceConnection>();
  readonly #opaques = new Map<string, number>();
  readonly #tries = new Map<string, Bucket>();

  constructor(
    private readonly clock: Clock,
    private readonly observe: (observation: Observation) => void,
    private readonly onSourceCame: (connection: SourceConnection) => void,
  ) {}

  setSources(sources: readonly DesiredSource[]): void {
    this.#sources = sources;
  }

  findSource(sourceId: string): DesiredSource | undefined {
    return this.#sources.find((source) => source.sourceId === sourceId);
  }

  findByUser(user: string): DesiredSource | undefined {
    return this.#sources.find((source) => source.user === user);
  }

  /** The connection that has a source now. */
  connectionOf(sourceId: string): SourceConnection | undefined {
    return this.#connections.get(sourceId);
  }

  get connections(): readonly SourceConnection[] {
    return [...this.#connections.values()];
  }

  actualConnections(): ActualConnection[] {
    return this.connections.map(({ connectionId, sourceId, keySha256Hex }) => ({
      connectionId,
      sourceId,
      keySha256Hex,
    }));
  }

  cut(connectionId: string): void {
    this.connections.find((connection) => connection.connectionId === connectionId)?.refuse('key-renewed');
  }

  /** A fresh challenge for a name-and-password round; it is good for one answer within a minute. */
  makeOpaque(): string {
    const nowMs = this.clock.monotonicMs();
    for (const [opaque, madeAtMs] of this.#opaques) {
      if (nowMs - madeAtMs < OPAQUE_LIFE_MS && this.#opaques.size < MAX_OPAQUES) break;
      this.#opaques.delete(opaque);
    }
    const opaque = randomUUID().slice(0, 8);
    this.#opaques.set(opaque, nowMs);
    return opaque;
  }

  hasAnswered(source: DesiredSource, query: AuthQuery): boolean {
    const madeAtMs = this.#opaques.get(query.opaque);
    this.#opaques.delete(query.opaque);
    if (!source.password || madeAtMs === undefined) return false;
    if (this.clock.monotonicMs() - madeAtMs > OPAQUE_LIFE_MS) return false;
    return (
      query.response === expectedResponse(source.password.verifier, query.opaque, query.challenge, md5Base64)
    );
  }

  /** @param provenUser - the name whose password the encoder has proven. */
  admit(
    streamName: string,
    provenUser: string | null,
    origin: ConnectionOrigin,
    close: (reason: SourceRefusalReason, detail: string) => void,
  ): Admission {
    const keySha256Hex = sha256Hex(streamName.split('?')[0]!);
    const source = this.#sources.find((candidate) => candidate.keySha256Hex === keySha256Hex);
    const { remoteAddress } = origin;
    const refuse = (reason: SourceRefusalReason): Admission => {
      this.refused(source?.sourceId ?? null, reason, remoteAddress);
      return { ok: false, reason };
    };
    // A key that is right is let in whatever its neighbours behind one address have tried.
    if (!source) {
      return this.mayTry(remoteAddress) ? refuse('unknown-key') : { ok: false, reason: 'too-many-tries' };
    }
    if (source.password && provenUser !== source.user) return refuse('needs-password');
    const nowMs = this.clock.monotonicMs();
    const present = this.#connections.get(source.sourceId);
    if (present?.meter.isPresent(nowMs)) return refuse('already-sending');
    present?.refuse('already-sending');
    const connection = new SourceConnection(
      randomUUID(),
      source.sourceId,
      keySha256Hex,
      nowMs,
      (reason, detail) => {
        this.refused(source.sourceId, reason, remoteAddress);
        close(reason, detail);
      },
      this.clock.nowMs(),
      origin,
    );
    this.#connections.set(source.sourceId, connection);
    const { sourceId } = source;
    this.observe({ kind: 'source-came', sourceId, ...origin, atMs: this.clock.nowMs() });
    this.onSourceCame(connection);
    return { ok: true, connection };
  }

  /** Takes one try of an address, or of a name from there; beyond the rule it is neither checked nor told to anybody. */
  mayTry(who: string): boolean {
    const nowMs = this.clock.monotonicMs();
    for (const [address, bucket] of this.#tries) {
      if (isFull(TRYING_RULE, bucket, nowMs)) this.#tries.delete(address);
    }
    const answer = takeToken(TRYING_RULE, this.#tries.get(who), nowMs);
    if (answer.allowed) this.#tries.set(who, answer.bucket);
    return answer.allowed;
  }

  /** Whoever has proven the password starts afresh. */
  proved(who: string): void {
    this.#tries.delete(who);
  }

  gone(connection: SourceConnection, reason: string): void {
    connection.went();
    if (this.#connections.get(connection.sourceId) === connection)
      this.#connections.delete(connection.sourceId);
    this.observe({ kind: 'source-went', sourceId: connection.sourceId, reason, atMs: this.clock.nowMs() });
  }

  refused(sourceId: string | null, reason: SourceRefusalReason, remoteAddress: string): void {
    this.observe({ kind: 'source-refused', sourceId, reason, remoteAddress, atMs: this.clock.nowMs() });
  }
}
