import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { type WebSocket, WebSocketServer } from 'ws';
import { toNodeSchema } from '@heliphon/contracts/camera.schema';
import type { SourceRefusalReason } from '@heliphon/core/control/observations';
import {
  CAMERA_LIMITS,
  CAMERA_PATH,
  readPiece,
  type ToCamera,
  type ToNode,
} from '@heliphon/core/ingest/camera-protocol';
import type { Clock } from '../clock.js';
import type { ChildProcesses } from '../processes/child-processes.js';
import type { TrustedProxies } from './address-of.js';
import { endWhenSilent } from './end-when-silent.js';
import { CameraSession } from './camera-session.js';
import type { SourceRegistry } from './source-registry.js';
import { measureUpload } from './upload-measuring.js';

/** A socket that has not said who it is by then is closed. */
const HELLO_MS = 10_000;
/** Those that have been let in, and those that have not (yet, or any more): altogether, and from one address. */
const MOST = { sockets: 200, outside: 200, outsidePerAddress: 12 } as const;
const MOST_MEASURING = 8;

/** Where browsers come in: with a camera, or to measure their upload. */
export class CameraServer {
  readonly #acceptor = new WebSocketServer({
    noServer: true,
    maxPayload: CAMERA_LIMITS.pieceBytes + 4,
    perMessageDeflate: false,
  });
  readonly #sessions = new Map<string, CameraSession>();
  /** By whom they come from, oldest first. */
  readonly #outside = new Map<WebSocket, string>();
  #admitted = 0;
  #measuring = 0;

  constructor(
    private readonly registry: SourceRegistry,
    private readonly proxies: TrustedProxies,
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
  ) {}

  /** Takes an upgrade of HTTP, or ends it. */
  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    if (request.url !== CAMERA_PATH) {
      socket.end('HTTP/1.1 404 Not Found\r\nContent-Length: 0\r\n\r\n');
      return;
    }
    const remoteAddress = this.proxies.addressOf(request);
    const fromThere = [...this.#outside.values()].filter((address) => address === remoteAddress).length;
    if (fromThere >= MOST.outsidePerAddress) {
      socket.end('HTTP/1.1 429 Too Many Requests\r\nRetry-After: 10\r\nContent-Length: 0\r\n\r\n');
      return;
    }
    // The one that has waited longest makes room, so that nobody shuts out others by waiting.
    if (this.#outside.size >= MOST.outside) this.#outside.keys().next().value?.terminate();
    this.#acceptor.handleUpgrade(request, socket, head, (accepted) => this.#serve(accepted, remoteAddress));
  }

  close(): void {
    for (const session of this.#sessions.values()) session.over('node-stopping');
    for (const socket of this.#acceptor.clients) socket.terminate();
    this.#acceptor.close();
  }

  #serve(socket: WebSocket, remoteAddress: string): void {
    const admission = setTimeout(() => socket.terminate(), HELLO_MS);
    this.#outside.set(socket, remoteAddress);
    endWhenSilent(socket);
    socket.once('close', () => {
      clearTimeout(admission);
      this.#outside.delete(socket);
    });
    socket.on('error', () => socket.terminate());
    socket.once('message', (data: Buffer, isBinary) => {
      clearTimeout(admission);
      const hello = isBinary ? null : readMessage(data);
      if (hello?.type !== 'send' && hello?.type !== 'measure') return socket.close(1002);
      void this.registry.expectToken(hello.token).then(() => {
        if (socket.readyState !== socket.OPEN) return;
        if (this.#admitted >= MOST.sockets) return turnAway(socket, 'too-many-tries');
        this.#outside.delete(socket);
        this.#admitted += 1;
        socket.once('close', () => (this.#admitted -= 1));
        if (hello.type === 'send') this.#takeCamera(socket, hello, remoteAddress);
        else this.#takeMeasuring(socket, hello.token, remoteAddress);
      });
    });
  }

  #takeMeasuring(socket: WebSocket, token: string, remoteAddress: string): void {
    if (!this.registry.mayTry(remoteAddress) || this.#measuring >= MOST_MEASURING)
      return turnAway(socket, 'too-many-tries');
    if (!this.registry.knowsToken(token)) return turnAway(socket, 'unknown-line');
    this.registry.proved(remoteAddress);
    this.#measuring += 1;
    socket.once('close', () => (this.#measuring -= 1));
    measureUpload(socket, this.clock);
  }

  #takeCamera(socket: WebSocket, hello: Extract<ToNode, { type: 'send' }>, remoteAddress: string): void {
    const name = `${hello.sessionId} ${hello.token}`;
    const session = this.#sessions.get(name) ?? this.#begin(name, hello, remoteAddress);
    if (!(session instanceof CameraSession)) return turnAway(socket, session);
    session.attach(socket);
    socket.once('close', () => session.detach(socket));
    socket.on('message', (data: Buffer, isBinary) => {
      if (isBinary) {
        const piece = readPiece(data);
        if (piece) session.piece(piece.seq, piece.bytes);
        return;
      }
      const message = readMessage(data);
      if (message?.type === 'begin') session.begin(message.seq, message.mimeType);
      if (message?.type === 'end') session.end(message.seq);
    });
  }

  #begin(
    name: string,
    { token, device }: Extract<ToNode, { type: 'send' }>,
    remoteAddress: string,
  ): CameraSession | SourceRefusalReason {
    let session: CameraSession | null = null;
    const admission = this.registry.admitToken(token, { remoteAddress, protocol: 'camera' }, (reason) =>
      session?.refuse(reason),
    );
    if (!admission.ok) return admission.reason;
    const { connection } = admission;
    if (device) connection.meter.named(device);
    session = new CameraSession(connection, {
      clock: this.clock,
      children: this.children,
      onOver: (reason) => {
        this.#sessions.delete(name);
        this.registry.gone(connection, reason);
      },
    });
    this.#sessions.set(name, session);
    return session;
  }
}

function readMessage(data: Buffer): ToNode | null {
  try {
    const { value, error } = toNodeSchema.validate(JSON.parse(String(data)));
    return error ? null : value;
  } catch {
    return null;
  }
}

function turnAway(socket: WebSocket, reason: SourceRefusalReason): void {
  const message: ToCamera = { type: 'refused', reason };
  socket.send(JSON.stringify(message));
  socket.close();
}
