import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { type WebSocket, WebSocketServer } from 'ws';
import type { ServerMessage } from '@heliphon/core/control/desired-state';
import { nodeMessageSchema } from '@heliphon/contracts/control.schema';
import { Database } from '../platform/database.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Placement } from '../nodes/placement.js';
import { HappeningFeed } from '../platform/happening-feed.js';
import { DesiredStateService } from './desired-state.service.js';
import { LiveFigures } from './live-figures.js';
import { recogniseNode } from './node-credentials.js';
import { ObservationsService } from './observations.service.js';

const PATH = '/control/v1';
/** One that is there says so within this. */
const ANSWERS_WITHIN_MS = 1000;
/** Changes that come together travel together. */
const GATHER_MS = 20;
/** Events come into view as time goes on. */
const REFRESH_MS = 30_000;
const MAX_MESSAGE_BYTES = 4_000_000;

/** The server's end of the control link: media nodes dial in, get the desired state, and tell what they observed. */
@Injectable()
export class ControlGateway implements BeforeApplicationShutdown {
  readonly #log = new Logger('Control');
  /** By the nodes' ids. */
  readonly #sockets = new Map<string, WebSocket>();
  readonly #acceptor = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES });
  #gathering: NodeJS.Timeout | null = null;
  #refreshing: NodeJS.Timeout | null = null;
  #undo: () => void = () => undefined;

  constructor(
    private readonly desired: DesiredStateService,
    private readonly observations: ObservationsService,
    private readonly figures: LiveFigures,
    private readonly nodes: MediaNodes,
    private readonly placement: Placement,
    private readonly database: Database,
    private readonly feed: HappeningFeed,
  ) {}

  attach(server: Server): void {
    server.on('upgrade', (request, socket, head) => {
      if (request.url === PATH) void this.#welcome(request, socket, head).catch(() => socket.destroy());
    });
    const leave = [this.feed, this.placement].map((teller) => teller.listen(() => this.sendSoon()));
    this.#undo = () => leave.forEach((undo) => undo());
    this.#refreshing = setInterval(() => this.sendSoon(), REFRESH_MS);
  }

  /** Sends the desired state, once, after everything that is changing just now. */
  sendSoon(): void {
    this.#gathering ??= setTimeout(() => {
      this.#gathering = null;
      this.#sendDesired().catch((error: unknown) =>
        this.#log.warn(`Desired state not sent: ${String(error)}`),
      );
    }, GATHER_MS);
  }

  /** Before the port closes, which waits for whoever is connected. */
  beforeApplicationShutdown(): void {
    this.#undo();
    if (this.#gathering) clearTimeout(this.#gathering);
    if (this.#refreshing) clearInterval(this.#refreshing);
    const sockets = [...this.#sockets.values()];
    this.#sockets.clear();
    for (const socket of sockets) socket.terminate();
    this.#acceptor.close();
  }

  async #sendDesired(): Promise<void> {
    if (this.#sockets.size === 0) return;
    const states = await this.desired.buildFor([...this.#sockets.keys()]);
    for (const [nodeId, state] of states) {
      const message: ServerMessage = { type: 'desired', state };
      this.#sockets.get(nodeId)?.send(JSON.stringify(message));
    }
  }

  async #welcome(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    const node = await recogniseNode(this.database.installation, request.headers.authorization);
    if (!node) {
      socket.end('HTTP/1.1 401 Unauthorized\r\nContent-Length: 0\r\n\r\n');
      return;
    }
    const other = this.#sockets.get(node.id);
    if (other && (await isThere(other))) {
      this.nodes.cameTwice(node.id, request.socket.remoteAddress ?? '');
      socket.end('HTTP/1.1 409 Conflict\r\nContent-Length: 0\r\n\r\n');
      return;
    }
    other?.terminate();
    this.#acceptor.handleUpgrade(request, socket, head, (accepted) => this.#serve(accepted, node.id));
  }

  #serve(socket: WebSocket, nodeId: string): void {
    // Two came at the same instant: the first stays.
    if (this.#sockets.get(nodeId)?.readyState === socket.OPEN) return socket.terminate();
    this.#sockets.set(nodeId, socket);
    socket.on('close', () => {
      if (this.#sockets.get(nodeId) !== socket) return;
      this.#sockets.delete(nodeId);
      this.nodes.went(nodeId).catch((error: unknown) => this.#log.warn(`Not written down: ${String(error)}`));
    });
    socket.on('error', () => socket.terminate());
    // One after another: the journal's order is the order of what happened.
    let queue = Promise.resolve();
    socket.on('message', (data) => {
      queue = queue
        .then(() => this.#take(socket, nodeId, String(data)))
        .catch((error: unknown) => {
          this.#log.error(`An observation could not be stored; the node sends it again: ${String(error)}`);
          socket.terminate();
        });
    });
    this.sendSoon();
  }

  async #take(socket: WebSocket, nodeId: string, text: string): Promise<void> {
    const { value, error } = nodeMessageSchema.validate(JSON.parse(text));
    if (error) {
      this.#log.warn(`The node said something that is not understood: ${error.message}`);
      return;
    }
    if (value.type === 'figures') return this.figures.take(nodeId, value.figures);
    if (value.type === 'here') return this.nodes.introduce(nodeId, value.self);
    const journalSeq = await this.observations.store(nodeId, value.entries);
    const stored: ServerMessage = { type: 'stored', journalSeq };
    socket.send(JSON.stringify(stored));
  }
}

/** Whether the other end of a socket still answers. */
function isThere(socket: WebSocket): Promise<boolean> {
  return new Promise((resolve) => {
    const timer = setTimeout(() => resolve(false), ANSWERS_WITHIN_MS);
    const answer = (isHere: boolean): void => {
      clearTimeout(timer);
      resolve(isHere);
    };
    socket.once('pong', () => answer(true));
    socket.once('close', () => answer(false));
    socket.ping();
  });
}
