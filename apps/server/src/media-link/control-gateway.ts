import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { type WebSocket, WebSocketServer } from 'ws';
import { nodeMessageSchema } from '@heliphon/contracts/control.schema';
import type { NodeMessage } from '@heliphon/core/control/observations';
import { Database } from '../platform/database.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { MOVED } from '../nodes/placement.js';
import { HAPPENED } from '../platform/happened.js';
import { FanOut } from '../platform/shared/fan-out.js';
import { DesiredStateService } from './desired-state.service.js';
import { LiveFigures } from '../live/live-figures.js';
import { recogniseNode } from './node-credentials.js';
import { type NodeLink, NodeLinks } from './node-links.js';
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
  readonly #acceptor = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES });
  #sending: Promise<void> = Promise.resolve();
  #gathering: NodeJS.Timeout | null = null;
  #refreshing: NodeJS.Timeout | null = null;
  #undo: () => void = () => undefined;

  constructor(
    private readonly desired: DesiredStateService,
    private readonly observations: ObservationsService,
    private readonly links: NodeLinks,
    private readonly figures: LiveFigures,
    private readonly nodes: MediaNodes,
    private readonly database: Database,
    private readonly fanOut: FanOut,
  ) {}

  attach(server: Server): void {
    server.on('upgrade', (request, socket, head) => {
      if (request.url === PATH) void this.#welcome(request, socket, head).catch(() => socket.destroy());
    });
    const leave = [HAPPENED, MOVED].map((topic) => this.fanOut.listen(topic, () => this.sendSoon()));
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

  /** Before the port closes: closing waits for every connection. */
  beforeApplicationShutdown(): void {
    this.#undo();
    if (this.#gathering) clearTimeout(this.#gathering);
    if (this.#refreshing) clearInterval(this.#refreshing);
    this.links.endAll();
    this.#acceptor.close();
  }

  /** One at a time: what was read earlier is never sent later. */
  #sendDesired(): Promise<void> {
    const sent = this.#sending.then(async () => {
      if (this.links.ids.length === 0) return;
      const states = await this.desired.buildFor(this.links.ids);
      for (const [nodeId, state] of states) this.links.of(nodeId)?.send({ type: 'desired', state });
    });
    this.#sending = sent.catch(() => undefined);
    return sent;
  }

  async #welcome(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    const node = await recogniseNode(this.database.installation, request.headers.authorization);
    if (!node) {
      socket.end('HTTP/1.1 401 Unauthorized\r\nContent-Length: 0\r\n\r\n');
      return;
    }
    const other = this.links.of(node.id);
    if (await other?.isThere()) {
      this.nodes.cameTwice(node.id, request.socket.remoteAddress ?? '');
      socket.end('HTTP/1.1 409 Conflict\r\nContent-Length: 0\r\n\r\n');
      return;
    }
    if (other && this.links.close(node.id, other)) other.end();
    this.#acceptor.handleUpgrade(request, socket, head, (accepted) => this.#serve(accepted, node.id));
  }

  #serve(socket: WebSocket, nodeId: string): void {
    const link = linkOver(socket);
    // Two came at the same instant: the first stays.
    if (!this.links.open(nodeId, link)) return socket.terminate();
    socket.on('close', () => {
      if (!this.links.close(nodeId, link)) return;
      this.nodes.went(nodeId).catch((error: unknown) => this.#log.warn(`Not written down: ${String(error)}`));
    });
    socket.on('error', () => socket.terminate());
    // One after another: the journal's order is the order of what happened.
    let queue = Promise.resolve();
    socket.on('message', (data) => {
      queue = queue
        .then(() => this.#take(link, nodeId, String(data)))
        .catch((error: unknown) => {
          this.#log.error(`An observation could not be stored; the node sends it again: ${String(error)}`);
          socket.terminate();
        });
    });
    this.sendSoon();
  }

  async #take(link: NodeLink, nodeId: string, text: string): Promise<void> {
    const value = readMessage(text);
    if (typeof value === 'string') {
      this.#log.warn(`The node said something that is not understood: ${value}`);
      return;
    }
    if (value.type === 'figures') return this.figures.take(nodeId, value.figures);
    const journalSeq =
      value.type === 'here'
        ? await this.nodes.introduce(nodeId, value.self, value.journalId)
        : await this.observations.store(nodeId, value.entries);
    link.send({ type: 'stored', journalSeq });
    if (value.type === 'here' && (await this.nodes.takeTellsAnew(nodeId))) link.send({ type: 'tell-anew' });
  }
}

/** @returns what is wrong with a message that is not understood */
function readMessage(text: string): NodeMessage | string {
  try {
    const { value, error } = nodeMessageSchema.validate(JSON.parse(text));
    return error ? error.message : value;
  } catch (error) {
    return String(error);
  }
}

const linkOver = (socket: WebSocket): NodeLink => ({
  send: (message) => socket.send(JSON.stringify(message)),
  isThere: () => isThere(socket),
  end: () => socket.terminate(),
});

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
