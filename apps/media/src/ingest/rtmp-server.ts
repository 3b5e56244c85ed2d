import { randomBytes } from 'node:crypto';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { createServer as createTlsServer } from 'node:tls';
import {
  authFailedDescription,
  challengeDescription,
  needAuthDescription,
  parseAuthQuery,
} from '@heliphon/core/ingest/encoder-auth';
import { RtmpServerSession, type SessionSignal } from '@heliphon/core/ingest/rtmp-server-session';
import type { SourceEnding, SourceRefusalReason } from '@heliphon/core/control/observations';
import type { IngestProtocol } from '@heliphon/core/signal/source-report';
import type { Clock } from '../clock.js';
import { type CertificateFiles, followCertificate, readCertificate } from './certificate.js';
import { ReadPace } from './read-pace.js';
import { refusalSentence } from './refusal-sentences.js';
import { FlvFeed } from './flv-feed.js';
import type { ConnectionOrigin } from './source-connection.js';
import type { SourceRegistry } from './source-registry.js';

/** The one application. A source with a name and password has `in/NAME`, so that the first connection can be challenged. */
const APPLICATION = 'in';
/** A connection that says nothing for so long is closed; encoders with a still picture send several times a second. */
const IDLE_MS = 20_000;

/** How many may hang on at once, altogether and from one address (a campus may stand behind one). */
export const CONNECTION_LIMITS = { all: 400, perAddress: 60 } as const;
/** Answers that nobody has read yet; an encoder needs a few hundred bytes of them. */
const MOST_UNREAD_BYTES = 64_000;
/** A peer that has not been let in by then is disconnected. */
const ADMISSION_MS = 10_000;

/** Listens for encoders over RTMP, and over RTMPS where the house has a certificate. */
export class RtmpServer {
  readonly #sockets = new Map<Socket, string>();
  readonly #servers: Server[] = [];
  readonly #pace = new ReadPace();
  #stopFollowing: () => void = () => undefined;

  constructor(
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
  ) {}

  async listen(port: number, host: string): Promise<number> {
    return this.#open(
      createServer((socket) => this.#welcome(socket, 'rtmp')),
      port,
      host,
    );
  }

  async listenSecure(port: number, host: string, files: CertificateFiles): Promise<number> {
    const server = createTlsServer(
      { ...(await readCertificate(files)), handshakeTimeout: ADMISSION_MS, minVersion: 'TLSv1.2' },
      (socket) => this.#welcome(socket, 'rtmps'),
    );
    server.on('tlsClientError', (_, socket) => socket.destroy());
    this.#stopFollowing = followCertificate(server, files);
    return this.#open(server, port, host);
  }

  async close(): Promise<void> {
    this.#stopFollowing();
    for (const socket of this.#sockets.keys()) socket.destroy();
    await Promise.all(this.#servers.map((server) => new Promise((resolve) => server.close(resolve))));
  }

  async #open(server: Server, port: number, host: string): Promise<number> {
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, host, resolve);
    });
    this.#servers.push(server);
    return (server.address() as AddressInfo).port;
  }

  #welcome(socket: Socket, protocol: IngestProtocol): void {
    const remoteAddress = socket.remoteAddress ?? 'unknown';
    const fromThere = [...this.#sockets.values()].filter((address) => address === remoteAddress).length;
    if (this.#sockets.size >= CONNECTION_LIMITS.all || fromThere >= CONNECTION_LIMITS.perAddress) {
      socket.destroy();
      return;
    }
    this.#sockets.set(socket, remoteAddress);
    socket.setNoDelay(true);
    socket.setTimeout(IDLE_MS, () => socket.destroy());
    const encoder = new EncoderSocket(socket, this.registry, this.clock, { remoteAddress, protocol });
    const admission = setTimeout(() => encoder.isAdmitted || socket.destroy(), ADMISSION_MS);
    this.#pace.follow(
      socket,
      () => encoder.isAdmitted,
      (bytes) => encoder.receive(bytes),
    );
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      clearTimeout(admission);
      this.#sockets.delete(socket);
      encoder.closed();
    });
  }
}

/** Binds one socket to a protocol session and, once let in, to its source. */
class EncoderSocket {
  readonly #session = new RtmpServerSession(randomBytes(1528));
  /** `null` before it is let in. */
  #feed: FlvFeed | null = null;
  #provenUser: string | null = null;
  #closeReason: SourceEnding = 'connection-broke';

  constructor(
    private readonly socket: Socket,
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
    private readonly origin: ConnectionOrigin,
  ) {}

  get isAdmitted(): boolean {
    return this.#feed !== null;
  }

  receive(bytes: Uint8Array): void {
    this.#obey(this.#session.receive(bytes));
  }

  closed(): void {
    if (this.#feed) this.registry.gone(this.#feed.connection, this.#closeReason);
    this.#feed = null;
  }

  #obey(signals: readonly SessionSignal[]): void {
    for (const signal of signals) {
      switch (signal.type) {
        case 'send':
          if (this.socket.writable) this.socket.write(signal.bytes);
          // A client that asks but never reads the answers would make us hold all of them.
          if (this.socket.writableLength > MOST_UNREAD_BYTES) this.socket.destroy();
          break;
        case 'connect-asked':
          this.#connectAsked(signal.application, signal.query);
          break;
        case 'publish-asked':
          this.#publishAsked(signal.streamName);
          break;
        case 'metadata':
          this.#feed?.announce(signal.metadata);
          break;
        case 'media':
          this.#feed?.message({ ...signal, body: signal.payload });
          break;
        case 'close':
          this.#closeReason = signal.reason;
          this.#closeAfter(signal.afterMs);
      }
    }
  }

  #connectAsked(application: string, query: string): void {
    if (application === APPLICATION) return this.#obey(this.#session.acceptConnect());
    const user = application.startsWith(`${APPLICATION}/`) ? application.slice(APPLICATION.length + 1) : null;
    const source = user === null ? undefined : this.registry.findByUser(user);
    if (!source?.password) return this.#refuseConnect('unknown-application');
    const answer = parseAuthQuery(query);
    if (!answer) return this.#obey(this.#session.refuseConnect(needAuthDescription));
    if (!answer.response) {
      const { salt } = source.password;
      return this.#obey(
        this.#session.refuseConnect(challengeDescription(answer.user, salt, this.registry.makeOpaque())),
      );
    }
    // The wrong tries of one neighbour must not lock out another's source behind the same address.
    const who = `${this.origin.remoteAddress} ${source.user}`;
    const mayTry = this.registry.mayTry(who);
    if (!mayTry || answer.user !== source.user || !this.registry.hasAnswered(source, answer)) {
      const reason = mayTry ? 'wrong-password' : 'too-many-tries';
      if (mayTry) this.registry.refused(source.sourceId, reason, this.origin.remoteAddress);
      return this.#obey(this.#session.refuseConnect(authFailedDescription(refusalSentence(reason))));
    }
    this.registry.proved(who);
    this.#provenUser = source.user;
    this.#obey(this.#session.acceptConnect());
  }

  #refuseConnect(reason: SourceRefusalReason): void {
    if (this.registry.mayTry(this.origin.remoteAddress))
      this.registry.refused(null, reason, this.origin.remoteAddress);
    this.#obey(this.#session.refuseConnect(refusalSentence(reason)));
  }

  #publishAsked(streamName: string): void {
    const admission = this.registry.admit(streamName, this.#provenUser, this.origin, (reason, detail) =>
      this.#obey(this.#session.refusePublish(refusalSentence(reason, detail))),
    );
    if (!admission.ok) return this.#obey(this.#session.refusePublish(refusalSentence(admission.reason)));
    this.#feed = new FlvFeed(admission.connection, this.clock);
    this.#obey(this.#session.acceptPublish());
  }

  #closeAfter(afterMs: number): void {
    // What arrived before the refusal no longer counts; the reason has to be read before the socket goes.
    this.closed();
    if (afterMs === 0) {
      this.socket.destroySoon();
      return;
    }
    const timer = setTimeout(() => this.socket.destroy(), afterMs);
    this.socket.once('close', () => clearTimeout(timer));
  }
}
