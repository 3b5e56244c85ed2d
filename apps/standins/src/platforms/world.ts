import { randomBytes } from 'node:crypto';
import type { Request } from 'express';
import { type Admission, type Certificate, StreamReceiver } from '../platform/stream-receiver.js';
import { type Client, type Consent, Consents } from './consents.js';
import { admissionUnder, type PlatformFault } from './faults.js';
import { Directory, type Outlet, type Person } from './outlets.js';
import { type Habits, type Posting, Postings } from './postings.js';

interface WorldOptions {
  readonly client: Client;
  readonly people: readonly Person[];
  readonly outlets: readonly Outlet[];
  readonly habits: Habits;
  /** For a platform that takes pictures over TLS alone. */
  readonly certificate: Certificate | null;
  readonly now: () => number;
}

const TICK_MS = 500;
/** A connection over which nothing comes brings no picture. */
const FRESH_MS = 3000;

/** All that a platform knows: people, consents, postings, and the pictures that come in. */
export class PlatformWorld {
  fault: PlatformFault = 'none';
  readonly client: Client;
  readonly consents: Consents;
  readonly directory: Directory;
  readonly postings: Postings;
  readonly receiver: StreamReceiver;
  readonly now: () => number;
  readonly #outletKeys = new Map<string, string>();
  /** By which key the picture of a posting comes. */
  readonly #sentBy = new Map<string, string>();
  readonly #timer = setInterval(() => this.tick(), TICK_MS);

  constructor({ client, people, outlets, habits, certificate, now }: WorldOptions) {
    this.now = now;
    this.client = client;
    this.consents = new Consents(client);
    this.directory = new Directory(people, outlets);
    this.postings = new Postings(habits);
    this.receiver = new StreamReceiver((key) => this.#admit(key), certificate);
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    await this.receiver.close();
  }

  /** The key that is good for whatever comes next at an outlet. */
  keyOf(outletId: string): string {
    const known = this.#outletKeys.get(outletId);
    if (known) return known;
    const key = `any-${randomBytes(15).toString('base64url')}`;
    this.#outletKeys.set(outletId, key);
    return key;
  }

  /** Of who asks with a bearer token (RFC 6750). */
  consentOf(request: Request): Consent | null {
    const [, token] = /^Bearer (.+)$/.exec(request.get('authorization') ?? '') ?? [];
    return token ? this.consents.consentOf(token, this.now()) : null;
  }

  isLive(posting: Posting): boolean {
    const key = this.#sentBy.get(posting.id);
    if (key === undefined || posting.state.is !== 'open') return false;
    const { isLive, lastByteAtMs } = this.receiver.arrivalOf(key);
    return isLive && Date.now() - (lastByteAtMs ?? 0) < FRESH_MS;
  }

  pictureOf({ id }: Posting): Promise<Buffer | null> {
    return this.receiver.picture(this.#sentBy.get(id) ?? '');
  }

  frameNumberOf({ id }: Posting): Promise<number | null> {
    return this.receiver.frameNumber(this.#sentBy.get(id) ?? '');
  }

  /** Ends what has to end by now, and hangs up on who sends it. */
  tick(): void {
    const ended = this.postings.tick(this.now(), (posting) => this.isLive(posting));
    for (const { id } of ended) this.hangUp(id);
  }

  hangUp(postingId: string): void {
    this.receiver.cut(this.#sentBy.get(postingId) ?? '');
  }

  /** From now on; who sends just now is cut off, and so meets it. */
  setFault(fault: PlatformFault): void {
    this.fault = fault;
    for (const name of this.receiver.streamNames) this.receiver.cut(name);
  }

  #admit(key: string): Admission {
    const outletId = [...this.#outletKeys].find(([, known]) => known === key)?.[0];
    const posting = outletId ? this.postings.nextOf(outletId) : this.postings.byKey(key);
    const admission = admissionUnder(this.fault);
    if (!admission.isTaken) return admission;
    if (!posting || !this.postings.takesPicture(posting, this.now()))
      return { isTaken: false, words: posting ? 'This broadcast is not open' : 'We do not know this key' };
    this.#sentBy.set(posting.id, key);
    return admission;
  }
}
