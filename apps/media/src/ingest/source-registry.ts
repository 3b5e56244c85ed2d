import { createHash, randomUUID } from 'node:crypto';
import { expectedResponse, type AuthQuery } from '@heliphon/core/ingest/encoder-auth';
import type { DesiredSource } from '@heliphon/core/control/desired-state';
import type { Observation, SourceEnding, SourceRefusalReason } from '@heliphon/core/control/observations';
import { type Bucket, isFull, takeToken, TRYING_RULE } from '@heliphon/core/access/token-bucket';
import type { ActualConnection } from '@heliphon/core/control/reconcile';
import type { Clock } from '../clock.js';
import { type ConnectionOrigin, SourceConnection } from './source-connection.js';

export type Admission =
  | { readonly ok: true; readonly connection: SourceConnection }
  | { readonly ok: false; readonly reason: SourceRefusalReason };

/** Shows an encoder out, and tells it why. */
type Close = (reason: SourceRefusalReason, detail: string) => void;

/** So long the server's word may take. */
const ON_ITS_WAY_MS = 3000;
const OPAQUE_LIFE_MS = 60_000;
const MAX_OPAQUES = 1000;

const sha256Hex = (text: string): string => createHash('sha256').update(text).digest('hex');
export const md5Base64 = (text: string): string => createHash('md5').update(text).digest('base64');

/** Knows which sources may connect, which are connected, and who listens to them. */
export class SourceRegistry {
  #sources: readonly DesiredSource[] = [];
  readonly #connections = new Map<string, SourceConnection>();
  readonly #endings = new Map<string, SourceEnding>();
  readonly #opaques = new Map<string, number>();
  readonly #tries = new Map<string, Bucket>();
  readonly #waiting = new Set<() => void>();

  constructor(
    private readonly clock: Clock,
    private readonly observe: (observation: Observation) => void,
    private readonly onSourceCame: (connection: SourceConnection) => void,
  ) {}

  setSources(sources: readonly DesiredSource[]): void {
    this.#sources = sources;
    const known = new Set(sources.map(({ sourceId }) => sourceId));
    for (const id of this.#endings.keys()) if (!known.has(id)) this.#endings.delete(id);
    for (const tell of this.#waiting) tell();
    this.#waiting.clear();
  }

  /**
   * Waits for a send token that was given out a moment ago: the browser may be here before the server's word of it.
   * @returns once it is known, or not to be waited for any longer.
   */
  async expectToken(token: string): Promise<void> {
    const deadline = this.clock.monotonicMs() + ON_ITS_WAY_MS;
    for (let leftMs = ON_ITS_WAY_MS; leftMs > 0 && !this.#findToken(token);) {
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, leftMs);
        this.#waiting.add(() => {
          clearTimeout(timer);
          resolve();
        });
      });
      leftMs = deadline - this.clock.monotonicMs();
    }
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

  /** Why a source went that was here; `null` while it is, or where it never was. */
  endingOf(sourceId: string): SourceEnding | null {
    return this.#endings.get(sourceId) ?? null;
  }

  get connections(): readonly SourceConnection[] {
    return [...this.#connections.values()];
  }

  actualConnections(): ActualConnection[] {
    return this.connections.map(({ connectionId, sourceId, credential }) => ({
      connectionId,
      sourceId,
      credential,
    }));
  }

  cut(connectionId: string): void {
    const connection = this.connections.find((candidate) => candidate.connectionId === connectionId);
    connection?.refuse(connection.protocol === 'camera' ? 'line-over' : 'key-renewed');
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
  admit(streamName: string, provenUser: string | null, origin: ConnectionOrigin, close: Close): Admission {
    const keySha256Hex = sha256Hex(streamName.split('?')[0]!);
    const source = this.#sources.find((candidate) => candidate.keySha256Hex === keySha256Hex);
    const { remoteAddress } = origin;
    // A key that is right is let in whatever its neighbours behind one address have tried.
    if (!source) return this.#refuseStranger('unknown-key', remoteAddress);
    if (source.password && provenUser !== source.user)
      return this.#refuse(source.sourceId, 'needs-password', remoteAddress);
    return this.letIn(source.sourceId, keySha256Hex, origin, close);
  }

  /** Lets in a browser that shows its send token. */
  admitToken(token: string, origin: ConnectionOrigin, close: Close): Admission {
    const known = this.#findToken(token);
    if (!known) return this.#refuseStranger('unknown-line', origin.remoteAddress);
    const { source, sha256Hex: hash, isOver } = known;
    if (isOver) return this.#refuse(source.sourceId, 'line-over', origin.remoteAddress);
    return this.letIn(source.sourceId, hash, origin, close);
  }

  /** Whether a send token is known and has not run out. */
  knowsToken(token: string): boolean {
    return this.#findToken(token)?.isOver === false;
  }

  #findToken(token: string): { source: DesiredSource; sha256Hex: string; isOver: boolean } | undefined {
    const hash = sha256Hex(token);
    for (const source of this.#sources) {
      const sendToken = source.lines.find((candidate) => candidate.sha256Hex === hash);
      if (sendToken) return { source, sha256Hex: hash, isOver: this.clock.nowMs() >= sendToken.untilMs };
    }
    return undefined;
  }

  /** An address that tries too often is neither checked nor reported. */
  #refuseStranger(reason: SourceRefusalReason, remoteAddress: string): Admission {
    return this.mayTry(remoteAddress)
      ? this.#refuse(null, reason, remoteAddress)
      : { ok: false, reason: 'too-many-tries' };
  }

  #refuse(sourceId: string | null, reason: SourceRefusalReason, remoteAddress: string): Admission {
    this.refused(sourceId, reason, remoteAddress);
    return { ok: false, reason };
  }

  /** Lets in a peer that has proved itself elsewhere. @param credential - see `opensWith` */
  letIn(sourceId: string, credential: string, origin: ConnectionOrigin, close: Close): Admission {
    const nowMs = this.clock.monotonicMs();
    const present = this.#connections.get(sourceId);
    if (present?.meter.isPresent(nowMs))
      return this.#refuse(sourceId, 'already-sending', origin.remoteAddress);
    present?.refuse('already-sending');
    const connection = new SourceConnection(
      randomUUID(),
      sourceId,
      credential,
      (reason, detail) => {
        this.refused(sourceId, reason, origin.remoteAddress);
        close(reason, detail);
      },
      this.clock.nowMs(),
      origin,
    );
    this.#connections.set(sourceId, connection);
    this.#endings.delete(sourceId);
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

  /** A peer that has proved the password starts afresh. */
  proved(who: string): void {
    this.#tries.delete(who);
  }

  gone(connection: SourceConnection, reason: SourceEnding): void {
    connection.went();
    if (this.#connections.get(connection.sourceId) === connection) {
      this.#connections.delete(connection.sourceId);
      this.#endings.set(connection.sourceId, reason);
    }
    this.observe({ kind: 'source-went', sourceId: connection.sourceId, reason, atMs: this.clock.nowMs() });
  }

  refused(sourceId: string | null, reason: SourceRefusalReason, remoteAddress: string): void {
    this.observe({ kind: 'source-refused', sourceId, reason, remoteAddress, atMs: this.clock.nowMs() });
  }
}
