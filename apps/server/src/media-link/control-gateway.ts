import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { type WebSocket, WebSocketServer } from 'ws';
import type { ServerMessage } from '@heliphon/core/control/desired-state';
import { nodeMessageSchema } from '@heliphon/contracts/control.schema';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { MediaNodeEntity } from '../platform/entities.js';
import { HappeningFeed } from '../platform/happening-feed.js';
import { DesiredStateService } from './desired-state.service.js';
import { LiveFigures } from './live-figures.js';
import { recogniseNode } from './node-credentials.js';
import { ObservationsService } from './observations.service.js';

const PATH = '/control/v1';
/** Changes that come together travel together. */
const GATHER_MS = 20;
/** Events come into view as time goes on. */
const REFRESH_MS = 30_000;
const MAX_MESSAGE_BYTES = 4_000_000;

/** The server's end of the control link: media nodes dial in, get the desired state, and tell what they observed. */
@Injectable()
export class ControlGateway implements BeforeApplicationShutdown {
  readonly #log = new Logger('Control');
  readonly #sockets = new Set<WebSocket>();
  readonly #acceptor = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES });
  #gathering: NodeJS.Timeout | null = null;
  #refreshing: NodeJS.Timeout | null = null;
  #undo: () => void = () => undefined;

  constructor(
    private readonly desired: DesiredStateService,
    private readonly observations: ObservationsService,
    private readonly figures: LiveFigures,
    private readonly database: Database,
    private readonly feed: HappeningFeed,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  async attach(server: Server): Promise<void> {
    for (const { nodeId, secretSha256Hex } of this.config.nodes) {
      const manager = this.database.installation;
      const known = await manager.findOneBy(MediaNodeEntity, { id: nodeId });
      if (known) await manager.update(MediaNodeEntity, { id: nodeId }, { secretSha256Hex });
      else await manager.insert(MediaNodeEntity, { id: nodeId, secretSha256Hex, lastJournalSeq: 0 });
    }
    server.on('upgrade', (request, socket, head) => {
      if (request.url === PATH) void this.#welcome(request, socket, head).catch(() => socket.destroy());
    });
    this.#undo = this.feed.listen(() => this.sendSoon());
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
    for (const socket of this.#sockets) socket.terminate();
    this.#acceptor.close();
  }

  async #sendDesired(): Promise<void> {
    if (this.#sockets.size === 0) return;
    const message: ServerMessage = { type: 'desired', state: await this.desired.build() };
    for (const socket of this.#sockets) socket.send(JSON.stringify(message));
  }

  async #welcome(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    const node = await recogniseNode(this.database.installation, request.headers.authorization);
    if (!node) {
      socket.end('HTTP/1.1 401 Unauthorized\r\nContent-Length: 0\r\n\r\n');
      return;
    }
    this.#acceptor.handleUpgrade(request, socket, head, (accepted) => this.#serve(accepted, node.id));
  }

  #serve(socket: WebSocket, nodeId: string): void {
    this.#sockets.add(socket);
    socket.on('close', () => this.#sockets.delete(socket));
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
    if (value.type === 'figures') return this.figures.take(value.figures);
    const journalSeq = await this.observations.store(nodeId, value.entries);
    const stored: ServerMessage = { type: 'stored', journalSeq };
    socket.send(JSON.stringify(stored));
  }
}
