import { randomBytes } from 'node:crypto';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import {
  authFailedDescription,
  challengeDescription,
  needAuthDescription,
  parseAuthQuery,
} from '@heliphon/core/ingest/encoder-auth';
import { RtmpServerSession, type SessionSignal } from '@heliphon/core/ingest/rtmp-server-session';
import type { SourceRefusalReason } from '@heliphon/core/control/observations';
import type { Clock } from '../clock.js';
import { refusalSentence } from './refusal-sentences.js';
import type { SourceConnection } from './source-connection.js';
import type { SourceRegistry } from './source-registry.js';

/** The one application. A source with a name and password has `in/NAME`, so that the first connection can be challenged. */
const APPLICATION = 'in';
/** A connection that says nothing for so long is closed; encoders with a still picture send several times a second. */
const IDLE_MS = 20_000;

/** Listens for encoders over RTMP. */
export class RtmpServer {
  readonly #sockets = new Set<Socket>();
  readonly #server: Server;

  constructor(
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
  ) {
    this.#server = createServer((socket) => this.#welcome(socket));
  }

  async listen(port: number, host: string): Promise<number> {
    await new Promise<void>((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, host, resolve);
    });
    return (this.#server.address() as AddressInfo).port;
  }

  async close(): Promise<void> {
    for (const socket of this.#sockets) socket.destroy();
    await new Promise((resolve) => this.#server.close(resolve));
  }

  #welcome(socket: Socket): void {
    this.#sockets.add(socket);
    socket.setNoDelay(true);
    socket.setTimeout(IDLE_MS, () => socket.destroy());
    const encoder = new EncoderSocket(socket, this.registry, this.clock);
    socket.on('data', (bytes) => encoder.receive(bytes));
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      this.#sockets.delete(socket);
      encoder.closed();
    });
  }
}

/** Binds one socket to a protocol session and, once let in, to its source. */
class EncoderSocket {
  readonly #session = new RtmpServerSession(randomBytes(1528));
  readonly #remoteAddress: string;
  #connection: SourceConnection | null = null;
  #provenUser: string | null = null;
  #closeReason = 'The connection broke';

  constructor(
    private readonly socket: Socket,
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
  ) {
    this.#remoteAddress = socket.remoteAddress ?? 'unknown';
  }

  receive(bytes: Uint8Array): void {
    this.#obey(this.#session.receive(bytes));
  }

  closed(): void {
    if (this.#connection) this.registry.gone(this.#connection, this.#closeReason);
    this.#connection = null;
  }

  #obey(signals: readonly SessionSignal[]): void {
    for (const signal of signals) {
      switch (signal.type) {
        case 'send':
          if (this.socket.writable) this.socket.write(signal.bytes);
          break;
        case 'connect-asked':
          this.#connectAsked(signal.application, signal.query);
          break;
        case 'publish-asked':
          this.#publishAsked(signal.streamName);
          break;
        case 'metadata':
          this.#connection?.metadata(signal.metadata);
          break;
        case 'media':
          this.#connection?.media(signal, this.clock.monotonicMs());
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
    if (answer.user !== source.user || !this.registry.hasAnswered(source, answer)) {
      this.registry.refused(source.sourceId, 'wrong-password', this.#remoteAddress);
      return this.#obey(
        this.#session.refuseConnect(authFailedDescription(refusalSentence('wrong-password'))),
      );
    }
    this.#provenUser = source.user;
    this.#obey(this.#session.acceptConnect());
  }

  #refuseConnect(reason: SourceRefusalReason): void {
    this.registry.refused(null, reason, this.#remoteAddress);
    this.#obey(this.#session.refuseConnect(refusalSentence(reason)));
  }

  #publishAsked(streamName: string): void {
    const admission = this.registry.admit(
      streamName,
      this.#provenUser,
      this.#remoteAddress,
      (reason, detail) => this.#obey(this.#session.refusePublish(refusalSentence(reason, detail))),
    );
    if (!admission.ok) return this.#obey(this.#session.refusePublish(refusalSentence(admission.reason)));
    this.#connection = admission.connection;
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
